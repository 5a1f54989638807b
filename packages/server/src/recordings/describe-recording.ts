import type { Recording } from '@tonos/contract';
import type { RecordingEntity } from './recording-entity.ts';

/** A recording as others see it. */
export function describe({ removedAt: _, ...recording }: RecordingEntity): Recording {
  const { boxes, measurement } = recording;
  // boxes of before they had ids, measurements that know no complaints; the copy is made already
  return Object.assign(recording, {
    boxes: boxes.map((box, i) => ({ id: `box-${i + 1}`, ...box })),
    measurement: measurement && (measurement.complaints ? measurement : { ...measurement, complaints: [] }),
  });
}
