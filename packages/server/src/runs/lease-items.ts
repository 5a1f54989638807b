import type { RecipeInput } from '@tonos/contract';
import { adjustChain, type EarlierRun, type Placement } from '@tonos/core';
import type { EntityManager } from 'typeorm';
import { ChainRevisionEntity } from '../chains/chain-entity.ts';
import { findRow, findRowOrFail, updateRows } from '../database/rows.ts';
import type { MachineRef } from '../jobs/job-kind.ts';
import { markedOf, pickUpsOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RecordingSetEntity } from '../sets/set-entity.ts';
import { setsOf } from '../sets/sets-of.ts';
import { episodeRecipe } from './lease-episode.ts';
import { finishIfDone } from './open-items.ts';
import { recipeOf } from './recipe.ts';
import { recipeSetting } from './recipe-setting.ts';
import { type Outcome, RunAttemptEntity } from './run-attempt-entity.ts';
import { RunEntity, RunItemEntity } from './run-entity.ts';

const LAST_ATTEMPT = 'SELECT "id" FROM "run_attempt" WHERE "itemId" = ? ORDER BY "keptAt" DESC LIMIT 1';

interface Member {
  item: RunItemEntity;
  recording: RecordingEntity;
}

interface SetMemberItem extends Member {
  set?: RecipeInput['set'];
}

export interface LeasedItem {
  item: RunItemEntity;
  name: string;
  recipe: RecipeInput;
  earlier: EarlierRun | undefined;
}

/** What was taken: one item, or those of a set. */
export interface Leased {
  runId: string;
  titleId: string;
  /** It can't be rendered, and says so already. */
  refused?: string;
  items: LeasedItem[];
}

/** Under which claim, by whom, when and by which version something is taken. */
interface Under {
  lease: string;
  machine: MachineRef;
  now: string;
  version: string;
}

/** Takes an item under a lease, and with it those of its run that are linked with its recording. */
export async function leaseItems(
  manager: EntityManager,
  first: RunItemEntity,
  { now, version, ...under }: Under,
): Promise<Leased> {
  const { runId } = first;
  const run = await findRowOrFail(manager, RunEntity, { id: runId });
  const { titleId } = run;
  if (run.status !== 'working')
    await updateRows(manager, RunEntity, { id: runId }, { status: 'working', startedAt: run.startedAt ?? now });
  const recording = await findRowOrFail(manager, RecordingEntity, { id: first.recordingId });
  if (recording.status === 'unreadable') {
    await manager.save(RunItemEntity, { ...first, status: 'failed', error: recording.error });
    await finishIfDone(manager, runId, now);
    return { runId, titleId, refused: first.id, items: [] };
  }
  if (run.orderId)
    return { titleId, ...(await leaseEpisode(manager, run, { item: first, recording }, { now, version, ...under })) };
  const members = await membersWith(manager, run, { item: first, recording });
  const items: LeasedItem[] = [];
  for (const { item, recording: own, set } of members) {
    await updateRows(manager, RunItemEntity, { id: item.id }, { ...under, status: 'working', before: own.measurement });
    items.push({ item, name: own.name, ...(await recipeFor(manager, run, { item, recording: own, set }, version)) });
  }
  return { runId, titleId, items };
}

/** A programme of a running order. What it can't be put together without fails it by its name. */
async function leaseEpisode(
  manager: EntityManager,
  { id: runId, ...run }: RunEntity,
  { item, recording }: Member,
  { now, version, ...under }: Under,
): Promise<Omit<Leased, 'titleId'>> {
  const made =
    item.remake && item.recipe
      ? { recipe: item.recipe }
      : await episodeRecipe(manager, { id: runId, ...run }, item, version);
  if (!('recipe' in made)) {
    const error = 'gone' in made ? { code: 'removed', message: made.gone } : made.unreadable.error;
    await manager.save(RunItemEntity, { ...item, status: 'failed', error });
    await finishIfDone(manager, runId, now);
    return { runId, refused: item.id, items: [] };
  }
  await manager.save(RunItemEntity, { ...item, ...under, status: 'working' as const, before: recording.measurement });
  return { runId, items: [{ item, name: recording.name, recipe: made.recipe, earlier: undefined }] };
}

/** An item by itself, or with those that wait in its run and are linked with it, each knowing of the others. */
async function membersWith(manager: EntityManager, run: RunEntity, first: Member): Promise<SetMemberItem[]> {
  // what is made again is made as it was
  const { remake, recipe } = first.item;
  if (remake && recipe && !recipe.set) return [first];
  // most titles have none
  if (!(await findRow(manager, RecordingSetEntity, { titleId: run.titleId }))) return [first];
  const set = (await setsOf(manager, run.titleId)).find(({ members }) =>
    members.some(({ recordingId }) => recordingId === first.recording.id),
  );
  if (!set) return [first];
  const found: (Member & { place: Placement })[] = [];
  for (const { recordingId, offsetSeconds, driftPpm } of set.members) {
    const item =
      recordingId === first.recording.id
        ? first.item
        : await manager
            .createQueryBuilder(RunItemEntity, 'item')
            .where({ runId: run.id, recordingId, status: 'queued', remake })
            .addSelect('item.recipe')
            .getOne();
    const recording = item && (await manager.findOneBy(RecordingEntity, { id: recordingId, status: 'ready' }));
    if (item && recording) found.push({ item, recording, place: { offsetSeconds, driftPpm } });
  }
  return found.map(({ item, recording, place }) => ({
    item,
    recording,
    set: {
      place,
      others: found
        .filter((other) => other.item !== item)
        .map((other) => {
          const { marks, cuts = [] } = markedOf(other.recording);
          return { sha256: other.recording.sha256, place: other.place, marks, cuts };
        }),
    },
  }));
}

async function recipeFor(
  manager: EntityManager,
  run: RunEntity,
  { item, recording, set }: SetMemberItem,
  version: string,
): Promise<Pick<LeasedItem, 'recipe' | 'earlier'>> {
  if (item.remake && item.recipe) return { recipe: item.recipe, earlier: earlierRun([item], item.recipe) };
  // a run of a running order has none, and is leased otherwise
  const { chainId, revision } = run as RunEntity & { chainId: string };
  const { file } = await findRowOrFail(manager, ChainRevisionEntity, { chainId, revision });
  const recipe = recipeOf({
    ...(await recipeSetting(manager, run, recording)),
    version,
    pickUps: await pickUpsOf(manager.getRepository(RecordingEntity), recording.cuts),
    set,
    chain: file,
    chainId,
  });
  const [last] = await manager.query<{ id: string }[]>(LAST_ATTEMPT, [item.id]);
  if (!last) return { recipe, earlier: undefined };
  const { outcome } = await findRowOrFail(manager, RunAttemptEntity, last);
  return { recipe, earlier: earlierRun([outcome], recipe) };
}

/** A run of the same recording, with the same marks: what was found then need not be found again. */
function earlierRun(
  outcomes: readonly Pick<Outcome, 'recipe' | 'findings'>[],
  now: RecipeInput,
): EarlierRun | undefined {
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  for (const { recipe, findings } of outcomes) {
    if (!recipe || !findings) continue;
    if (recipe.source.sha256 !== now.source.sha256) continue;
    if (!same(recipe.marked, now.marked) || !same(recipe.pickUps, now.pickUps)) continue;
    return { steps: adjustChain(recipe.chain.steps, recipe.adjustments).steps, reports: findings };
  }
  return undefined;
}
