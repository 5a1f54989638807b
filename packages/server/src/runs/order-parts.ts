import type { RecipeInput } from '@tonos/contract';
import { foretoldPart, InvalidOrderError, type OrderFile, resolveOrder, type TargetFile } from '@tonos/core';
import type { PartFile } from '@tonos/render';
import type { EntityManager } from 'typeorm';
import { byHandOf, markedOf, pickUpsOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { diskNeed } from './disk-need.ts';
import type { Programme } from './order-ingredients.ts';
import { foretoldSound, type PartSound, recordingsIn } from './part-sounds.ts';

/** What the parts of a programme are made from. */

type OrderParts = NonNullable<RecipeInput['order']>['parts'];
type OneInput = Omit<OrderParts[string], 'linked'>;

/** As a recipe holds it: everything that the sound hangs on. */
export async function partInput(manager: EntityManager, sound: PartSound): Promise<OrderParts[string]> {
  const { linked } = sound;
  const own = await oneInput(manager, sound);
  if (!linked) return own;
  const others: NonNullable<OrderParts[string]['linked']>['others'] = [];
  for (const { recording, place } of linked.others) others.push({ ...(await oneInput(manager, recording)), place });
  return { ...own, linked: { place: linked.place, others } };
}

async function oneInput(manager: EntityManager, recording: RecordingEntity): Promise<OneInput> {
  const pickUps = await pickUpsOf(manager.getRepository(RecordingEntity), recording.cuts);
  return { ...soundOf(recording), ...(Object.keys(pickUps).length && { pickUps }) };
}

/** A stretch of it, as it is: cuts hardly change how it sounds. */
export const uncutInput = ({ linked, ...sound }: PartSound): OrderParts[string] => ({
  ...soundOf({ ...sound, cuts: [] }),
  ...(linked && {
    linked: {
      place: linked.place,
      others: linked.others.map(({ recording, place }) => ({ ...soundOf({ ...recording, cuts: [] }), place })),
    },
  }),
});

const soundOf = (recording: RecordingEntity): OneInput => ({
  name: recording.name,
  sha256: recording.sha256,
  marked: markedOf(recording),
});

/** As finely as lengths are foretold. */
const RATE = 48_000;

/** How long a programme will be, by what is known of its recordings. @throws InvalidOrderError where it can't be put together */
export function foretoldSeconds(order: OrderFile, recordings: Programme['recordings']): number {
  const parts = order.parts.map((part) => {
    return [part.id, foretoldPart(part, foretoldSound(recordings.get(part.id)!)!, RATE)] as const;
  });
  return resolveOrder(order, new Map(parts), RATE).frames / RATE;
}

/**
 * Bytes that a run of programmes takes at most. A bed that is repeated, and what lies between parts, make a programme longer than all of
 * its parts; parts that lie over each other shorter, and they are kept one by one.
 */
export function programmesNeed(
  target: TargetFile,
  order: OrderFile,
  programmes: readonly Pick<Programme, 'recordings'>[],
  threads: number,
): number {
  const sounds = programmes.map(({ recordings }) => {
    const measured = [...recordings.values()].flatMap(recordingsIn).flatMap(({ measurement }) => measurement ?? []);
    return {
      durationSeconds: Math.max(
        measured.reduce((sum, { durationSeconds }) => sum + durationSeconds, 0),
        lengthIfKnown(order, recordings),
      ),
      sampleRateHz: Math.max(RATE, ...measured.map(({ sampleRateHz }) => sampleRateHz)),
      channels: order.channels,
    };
  });
  return diskNeed(target, [], sounds, threads);
}

/** One that can't be put together fails by itself, and takes no more than its parts. */
function lengthIfKnown(order: OrderFile, recordings: Programme['recordings']): number {
  if ([...recordings.values()].some((sound) => !foretoldSound(sound))) return 0;
  try {
    return foretoldSeconds(order, recordings);
  } catch (error) {
    if (error instanceof InvalidOrderError) return 0;
    throw error;
  }
}

/** What a programme is called by: its body, or, without places, its order. */
export const namedAs = ({ body, fill }: Pick<Programme, 'body' | 'fill'>, { name }: OrderFile) =>
  Object.keys(fill).length ? body : { ...body, name: `${name}.order`, tags: {}, speaker: '' };

/** As a job takes it. */
export const partFiles = (parts: OrderParts, store: Pick<BlobStore, 'pathOf'>): Record<string, PartFile> =>
  Object.fromEntries(
    Object.entries(parts).map(([id, { linked, ...own }]) => [
      id,
      {
        ...fileOf(own, store),
        chapters: own.marked.marks
          .filter(({ chapter }) => chapter)
          .map(({ name: title, startSeconds }) => ({ title, startSeconds })),
        ...(linked && {
          linked: {
            place: linked.place,
            others: linked.others.map(({ place, ...other }) => ({ ...fileOf(other, store), place })),
          },
        }),
      },
    ]),
  );

const fileOf = ({ name, sha256, marked, pickUps = {} }: OneInput, store: Pick<BlobStore, 'pathOf'>) => ({
  name,
  path: store.pathOf(sha256),
  byHand: byHandOf(marked, pickUps, store),
});
