import { NO_CHOICE, spanToResult } from '@tonos/core';
import { type EntityManager, In } from 'typeorm';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RunItemEntity } from './run-entity.ts';

/**
 * Deliveries that a programme may be put together from, by the ids of their items: those that are within or accepted, and there. Each is its
 * recording, with the delivered file in the place of the source: what was cut and turned down is in it, and marks lie where their moments went.
 */
export async function deliveredSounds(
  manager: EntityManager,
  itemIds: readonly string[],
): Promise<Map<string, RecordingEntity>> {
  const items = await manager.findBy(RunItemEntity, { id: In([...itemIds]), cleared: false });
  const delivered = items.filter(
    ({ status, accepted }) => status === 'within' || (status === 'off-target' && accepted),
  );
  const recordings = await manager.findBy(RecordingEntity, { id: In(delivered.map(({ recordingId }) => recordingId)) });
  const sounds = new Map<string, RecordingEntity>();
  for (const { id, recordingId, outputSha256, outputBytes, after, timeMap } of delivered) {
    const recording = recordings.find((one) => one.id === recordingId);
    if (!recording || !outputSha256 || !after) continue;
    sounds.set(id, {
      ...recording,
      sha256: outputSha256,
      sizeBytes: outputBytes ?? 0,
      measurement: after,
      marks: timeMap ? recording.marks.map((mark) => ({ ...mark, ...spanToResult(timeMap, mark) })) : recording.marks,
      roomToneChoice: NO_CHOICE,
      boxes: [],
      cuts: [],
      adjustments: {},
    });
  }
  return sounds;
}
