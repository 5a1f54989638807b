import type { Recording, RecordingSet } from '@tonos/contract';
import { type ReactNode, useCallback, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { type Surface as DrawingSurface, drawChannels, type Ink } from '../../plots/draw-plate.ts';
import type { TimeRange } from '../../plots/time-axis.ts';
import { sayError } from '../../ui/notify.ts';
import classes from './Bench.module.css';
import { LayGrip } from './LayGrip.tsx';
import { laidLater, onTimeOf } from './member-time.ts';
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
  const [change, { isLoading }] = api.useChangeSetMutation();
  const [moved, setMoved] = useState<{ id: string; bySeconds: number } | null>(null);
  const own = set.members.find((member) => member.recordingId === recordingId);
  if (!own) return null;
  // until it is known where it lies now, nobody says how much later it should
  const move = (id: string, bySeconds: number) => !isLoading && setMoved({ id, bySeconds });
  const keep = async (id: string, bySeconds: number) => {
    if (isLoading) return;
    setMoved({ id, bySeconds });
    const { error } = bySeconds ? await change({ id: set.id, members: laidLater(set, id, bySeconds) }) : {};
    setMoved(null);
    if (error) sayError('It was not laid there', error);
  };
  return set.members
    .filter((member) => member !== own)
    .map((member) => {
      const id = member.recordingId;
      const recording = siblings.find((one) => one.id === id);
      const bySeconds = moved?.id === id ? moved.bySeconds : 0;
      const laid = { ...member, offsetSeconds: member.offsetSeconds + bySeconds };
      return (
        recording?.measurement && (
          <MemberWave
            key={id}
            recording={recording}
            seconds={recording.measurement.durationSeconds}
            range={onTimeOf(own, laid, range)}
            width={width}
            grip={
              <LayGrip
                name={recording.givenName || recording.name}
                bySeconds={bySeconds}
                secondsPerPixel={(range.toSeconds - range.fromSeconds) / Math.max(1, width)}
                move={(by) => move(id, by)}
                keep={(by) => void keep(id, by)}
              />
            }
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
  grip: ReactNode;
}

function MemberWave({ recording, seconds, range, width, grip }: MemberWaveProps) {
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
        {grip}
      </div>
      <Surface width={width} height={HEIGHT} draw={draw} label={`Wave of ${called}`} />
    </>
  );
}
