import type { Recording, RecordingSet } from '@tonos/contract';
import { useCallback } from 'react';
import { Link } from 'react-router';
import { type Surface as DrawingSurface, drawChannels, type Ink } from '../../plots/draw-plate.ts';
import type { TimeRange } from '../../plots/time-axis.ts';
import classes from './Bench.module.css';
import { onTimeOf } from './member-time.ts';
import { Surface } from './Surface.tsx';
import { useSight } from './use-sight.ts';

const HEIGHT = 64;

interface MemberWavesProps {
  recordingId: string;
  set: RecordingSet;
  siblings: readonly Recording[];
  range: TimeRange;
  width: number;
}

/** The other members of a set under the one that is looked at, the same moment above the same moment. */
export function MemberWaves({ recordingId, set, siblings, range, width }: MemberWavesProps) {
  const own = set.members.find((member) => member.recordingId === recordingId);
  if (!own) return null;
  return set.members
    .filter((member) => member !== own)
    .map((member) => {
      const recording = siblings.find(({ id }) => id === member.recordingId);
      return (
        recording?.measurement && (
          <MemberWave
            key={member.recordingId}
            recording={recording}
            seconds={recording.measurement.durationSeconds}
            range={onTimeOf(own, member, range)}
            width={width}
          />
        )
      );
    });
}

interface MemberWaveProps {
  recording: Recording;
  seconds: number;
  range: TimeRange;
  width: number;
}

function MemberWave({ recording, seconds, range, width }: MemberWaveProps) {
  const seen = { fromSeconds: Math.max(0, range.fromSeconds), toSeconds: Math.min(seconds, range.toSeconds) };
  const { view } = useSight(recording.id, seen, Math.min(4096, Math.round(width)));
  const draw = useCallback(
    (canvas: Pick<DrawingSurface, 'context' | 'width' | 'height'>, ink: Ink) =>
      view && drawChannels({ ...canvas, range }, view, ink),
    [view, range],
  );
  const called = recording.givenName || recording.name;
  return (
    <>
      <div className={classes.caption}>
        <Link className="plain" to={`/recordings/${recording.id}`}>
          {called}
        </Link>
      </div>
      <Surface width={width} height={HEIGHT} draw={draw} label={`Wave of ${called}`} />
    </>
  );
}
