import { SegmentedControl } from '@mantine/core';
import type { Recording, RecordingSet } from '@tonos/contract';
import classes from './Bench.module.css';

/** The recording that is looked at, with its cuts; every member at once. */
export const OWN = 'own';
export const ALL = 'all';

interface SetHearingProps {
  recordingId: string;
  set: RecordingSet;
  siblings: readonly Recording[];
  heard: string;
  hear(who: string): void;
}

/** Whose sound is heard: this recording, another one of its session at the same moment, or all of them. */
export function SetHearing({ recordingId, set, siblings, heard, hear }: SetHearingProps) {
  const others = set.members.flatMap((member) => {
    const recording = siblings.find(({ id }) => id === member.recordingId && id !== recordingId);
    return recording?.measurement ? [{ value: recording.id, label: recording.givenName || recording.name }] : [];
  });
  if (!others.length) return null;
  return (
    <div className={classes.hearing}>
      <span>Heard</span>
      <SegmentedControl
        size="xs"
        aria-label="Whose sound is heard"
        value={heard}
        onChange={hear}
        data={[{ value: OWN, label: 'This one' }, ...others, { value: ALL, label: 'All together' }]}
      />
    </div>
  );
}
