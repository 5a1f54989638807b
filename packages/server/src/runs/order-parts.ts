import type { RecipeInput } from '@tonos/contract';
import type { OrderFile, TargetFile } from '@tonos/core';
import type { PartFile } from '@tonos/render';
import type { EntityManager } from 'typeorm';
import { byHandOf, markedOf, pickUpsOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { diskNeed } from './disk-need.ts';
import type { Programme } from './order-ingredients.ts';

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

/** Bytes that a run of programmes takes at most: of each no more than all of its parts one after the other. */
export function programmesNeed(
  target: TargetFile,
  { channels }: OrderFile,
  programmes: readonly Pick<Programme, 'recordings'>[],
  threads: number,
): number {
  const sounds = programmes.map(({ recordings }) => {
    const measured = [...recordings.values()].flatMap(({ measurement }) => measurement ?? []);
    return {
      durationSeconds: measured.reduce((sum, { durationSeconds }) => sum + durationSeconds, 0),
      sampleRateHz: Math.max(48_000, ...measured.map(({ sampleRateHz }) => sampleRateHz)),
      channels,
    };
  });
  return diskNeed(target, [], sounds, threads);
}

/** What a programme is called by: its body, or, without places, its order. */
export const namedAs = ({ body, fill }: Pick<Programme, 'body' | 'fill'>, { name }: OrderFile) =>
  Object.keys(fill).length ? body : { ...body, name: `${name}.order`, tags: {}, speaker: '' };

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
