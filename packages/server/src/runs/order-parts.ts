import type { RecipeInput } from '@tonos/contract';
import type { PartFile } from '@tonos/render';
import type { EntityManager } from 'typeorm';
import { byHandOf, markedOf, pickUpsOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';

/** What the parts of a programme are made from. */

type OrderParts = NonNullable<RecipeInput['order']>['parts'];

/** As a recipe holds it: everything that the sound hangs on. */
export async function partInput(manager: EntityManager, recording: RecordingEntity): Promise<OrderParts[string]> {
  const pickUps = await pickUpsOf(manager.getRepository(RecordingEntity), recording.cuts);
  return {
    name: recording.name,
    sha256: recording.sha256,
    marked: markedOf(recording),
    ...(Object.keys(pickUps).length && { pickUps }),
  };
}

/** As a job takes it. */
export const partFiles = (parts: OrderParts, store: Pick<BlobStore, 'pathOf'>): Record<string, PartFile> =>
  Object.fromEntries(
    Object.entries(parts).map(([id, { name, sha256, marked, pickUps = {} }]) => [
      id,
      {
        name,
        path: store.pathOf(sha256),
        byHand: byHandOf(marked, pickUps, store),
        chapters: marked.marks
          .filter(({ chapter }) => chapter)
          .map(({ name: title, startSeconds }) => ({ title, startSeconds })),
      },
    ]),
  );
