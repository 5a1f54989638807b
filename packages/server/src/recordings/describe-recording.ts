import type { Recording } from '@tonos/contract';
import type { RecordingEntity } from './recording-entity.ts';

/** A recording as others see it. Measurements of an earlier version know no complaints. */
export const describe = ({ removedAt: _, ...recording }: RecordingEntity): Recording => ({
  ...recording,
  // boxes of before they had ids
  boxes: recording.boxes.map((box, i) => ({ id: `box-${i + 1}`, ...box })),
  measurement: recording.measurement && {
    ...recording.measurement,
    complaints: recording.measurement.complaints ?? [],
  },
});
