import type { ItemStatus, RecipeInput } from '@tonos/contract';
import { adjustChain, type EarlierRun, type Placement } from '@tonos/core';
import { type EntityManager, IsNull, Not } from 'typeorm';
import { ChainRevisionEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { byHandOf, markedOf, pickUpsOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { setsOf } from '../sets/sets-of.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { DISK_FULL, insist, isDiskFull } from '../storage/disk-full.ts';
import type { Surroundings } from '../surroundings.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { Work, WorkSource } from '../workers/dispatcher.ts';
import type { JobEnd, RenderJob } from '../workers/messages.ts';
import { secondsLeft } from '../workers/seconds-left.ts';
import { notesOf, pictureOf, recipeOf } from './recipe.ts';
import { type Outcome, RunAttemptEntity } from './run-attempt-entity.ts';
import { RunEntity, RunItemEntity } from './run-entity.ts';
import { finishIfDone, type RunService } from './run-service.ts';

/** An attempt at an item, from lease to end. */
interface Attempt {
  lease: string;
  controller: AbortController;
  outputPath: string;
  spoolFolder: string;
  recipe: RecipeInput;
  pictures: { surveyPath: string; copyPath: string };
  startedMs: number;
}

interface Member {
  item: RunItemEntity;
  recording: RecordingEntity;
}

interface SetMemberItem extends Member {
  set?: RecipeInput['set'];
}

interface LeasedItem {
  item: RunItemEntity;
  name: string;
  recipe: RecipeInput;
  earlier: EarlierRun | undefined;
}

/** What was taken: one item, or those of a set. */
interface Leased {
  runId: string;
  /** It can't be rendered, and says so already. */
  refused?: string;
  items: LeasedItem[];
}

/** Takes queued items under a lease, renders them, and stores how they came out. */
export class RunWorker implements WorkSource {
  private readonly attempts = new Map<string, Attempt>();
  private readonly interrupted = new AbortController();

  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly bus: EventBus,
    private readonly runs: RunService,
    private readonly surroundings: Surroundings,
    private readonly version: string,
    private readonly report: (error: unknown) => void,
  ) {}

  /** Leases of a server that is gone are void: its items wait again. */
  async recover(): Promise<void> {
    await this.database.transaction((manager) =>
      manager.update(RunItemEntity, { status: 'working' }, { status: 'queued', lease: null }),
    );
  }

  async take(): Promise<Work | undefined> {
    if (this.interrupted.signal.aborted) return undefined;
    const lease = this.surroundings.newId();
    const taken = await this.database.transaction(async (manager) => {
      const item = await manager
        .createQueryBuilder(RunItemEntity, 'item')
        .innerJoin(RunEntity, 'run', 'run.id = item.runId')
        .innerJoin(RecordingEntity, 'recording', 'recording.id = item.recordingId')
        .where({ status: 'queued' })
        .andWhere('recording.status != :measuring', { measuring: 'measuring' })
        .andWhere('run.paused = :paused', { paused: false })
        .addSelect('item.recipe')
        .orderBy('run.priority', 'DESC')
        .addOrderBy('run.createdAt', 'ASC')
        .addOrderBy('item.position', 'ASC')
        .limit(1) // by itself, getOne reads all that waits
        .getOne();
      return item && this.lease(manager, item, lease);
    });
    if (!taken) return undefined;
    const { runId, refused, items } = taken;
    if (refused) {
      await this.runs.publish(runId, [refused]);
      return this.take();
    }
    const controller = new AbortController();
    for (const { item, recipe } of items) {
      // P16: known before anything else is waited for, so that cancelling and stopping reach it
      this.attempts.set(item.id, {
        lease,
        controller,
        outputPath: this.store.temporaryPath(),
        spoolFolder: '',
        recipe,
        pictures: { surveyPath: this.store.temporaryPath(), copyPath: this.store.temporaryPath() },
        startedMs: performance.now(),
      });
    }
    if (this.interrupted.signal.aborted) controller.abort();
    const attempts = items.map(({ item }) => this.attempts.get(item.id)!);
    for (const attempt of attempts) {
      attempt.spoolFolder = await this.store.spoolFolder().catch((error) => this.giveBack(items, attempts, error));
    }
    const jobs = items.map((one, i) => this.jobOf(one, attempts[i]));
    return {
      job:
        jobs.length === 1 && !items[0].recipe.set
          ? { type: 'render', ...jobs[0] }
          : {
              type: 'render-set',
              name: jobs.map(({ name }) => name).join(', '),
              members: jobs.map((job, i) => ({ ...job, earlier: undefined, place: items[i].recipe.set!.place })),
            },
      signal: controller.signal,
      begun: () =>
        this.runs.publish(
          runId,
          items.map(({ item }) => item.id),
        ),
      progress: (share, stage) => {
        items.forEach(({ item }, i) => {
          this.tell(item, attempts[i], share, stage);
        });
      },
      end: async (end) => {
        for (const [i, { item }] of items.entries())
          await this.settle(item, attempts[i], end.type === 'set-rendered' ? end.ends[i] : end);
      },
    };
  }

  /** Takes an item under a lease, and with it those of its run that are linked with its recording. */
  private async lease(manager: EntityManager, first: RunItemEntity, lease: string): Promise<Leased> {
    const { runId } = first;
    const now = this.surroundings.now();
    const run = await manager.findOneByOrFail(RunEntity, { id: runId });
    await manager.update(RunEntity, { id: runId }, { status: 'working', startedAt: run.startedAt ?? now });
    const recording = await manager.findOneByOrFail(RecordingEntity, { id: first.recordingId });
    if (recording.status === 'unreadable') {
      await manager.save(RunItemEntity, { ...first, status: 'failed', error: recording.error });
      await finishIfDone(manager, runId, now);
      return { runId, refused: first.id, items: [] };
    }
    const members = await this.membersWith(manager, run, { item: first, recording });
    const items: LeasedItem[] = [];
    for (const { item, recording: own, set } of members) {
      await manager.save(RunItemEntity, { ...item, status: 'working' as const, lease, before: own.measurement });
      items.push({ item, name: own.name, ...(await this.recipeFor(manager, run, item, own, set)) });
    }
    return { runId, items };
  }

  /** An item by itself, or with those that wait in its run and are linked with it, each knowing of the others. */
  private async membersWith(manager: EntityManager, run: RunEntity, first: Member): Promise<SetMemberItem[]> {
    // what is made again is made as it was
    const { remake, recipe } = first.item;
    if (remake && recipe && !recipe.set) return [first];
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

  private async recipeFor(
    manager: EntityManager,
    run: RunEntity,
    item: RunItemEntity,
    recording: RecordingEntity,
    set: RecipeInput['set'],
  ): Promise<Pick<LeasedItem, 'recipe' | 'earlier'>> {
    if (item.remake && item.recipe) return { recipe: item.recipe, earlier: this.earlierRun([item], item.recipe) };
    const { chainId, revision } = run;
    const { file } = await manager.findOneByOrFail(ChainRevisionEntity, { chainId, revision });
    const target = await manager.findOneByOrFail(TargetEntity, { id: run.targetId });
    const title = await manager.findOneByOrFail(TitleEntity, { id: run.titleId });
    const recipe = recipeOf({
      version: this.version,
      recording,
      pickUps: await pickUpsOf(manager.getRepository(RecordingEntity), recording.cuts),
      set,
      chain: file,
      chainId,
      revision,
      target: target.file,
      title,
      trackTotal: await manager.countBy(RecordingEntity, {
        titleId: run.titleId,
        superseded: false,
        trashedAt: IsNull(),
      }),
      date: run.createdAt,
    });
    const attempts = await manager.find(RunAttemptEntity, {
      where: { itemId: item.id },
      order: { keptAt: 'DESC' },
      take: 1,
    });
    const earlier = this.earlierRun(
      attempts.map(({ outcome }) => outcome),
      recipe,
    );
    return { recipe, earlier };
  }

  private jobOf({ name, recipe, earlier }: LeasedItem, attempt: Attempt): Omit<RenderJob, 'type'> {
    const picture = pictureOf(recipe);
    return {
      path: this.store.pathOf(recipe.source.sha256),
      name,
      steps: adjustChain(recipe.chain.steps, recipe.adjustments).steps,
      earlier,
      target: recipe.target,
      notes: notesOf(recipe),
      ...(picture ? { picturePath: this.store.pathOf(picture) } : {}),
      byHand: byHandOf(recipe.marked, recipe.pickUps ?? {}, this.store),
      outputPath: attempt.outputPath,
      spoolFolder: attempt.spoolFolder,
      pictures: attempt.pictures,
    };
  }

  /** What was taken and can't be begun waits again: nobody would end it. */
  private async giveBack(items: readonly LeasedItem[], attempts: readonly Attempt[], reason: unknown): Promise<never> {
    for (const [i, { item }] of items.entries()) {
      this.attempts.delete(item.id);
      const { lease, spoolFolder } = attempts[i];
      if (spoolFolder) await this.store.discard(spoolFolder);
      const change = () =>
        this.database.transaction((manager) =>
          manager.update(RunItemEntity, { id: item.id, lease }, { status: 'queued', lease: null }),
        );
      await insist(change, this.interrupted.signal, this.report);
    }
    throw reason;
  }

  /** Stops the threads of a run's items that are no longer wanted. */
  async abandonCancelled(runId: string): Promise<void> {
    const gone = await this.database.of(RunItemEntity).findBy({ runId, status: Not('working') });
    for (const { id } of gone) this.attempts.get(id)?.controller.abort();
  }

  /** What is under way goes back to the queue: the next start takes it up. */
  interrupt(): void {
    this.interrupted.abort();
    for (const { controller } of this.attempts.values()) controller.abort();
  }

  /** A run of the same recording, with the same marks: what was found then need not be found again. */
  private earlierRun(
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

  private tell(item: RunItemEntity, attempt: Attempt, share: number, stage: string): void {
    const left = secondsLeft(attempt.startedMs, share, performance.now());
    this.bus.publish({ type: 'item-progress', runId: item.runId, itemId: item.id, share, stage, secondsLeft: left });
  }

  private async settle(item: RunItemEntity, attempt: Attempt, end: JobEnd): Promise<void> {
    try {
      const change = await this.outcome(attempt, end).catch((error): Partial<RunItemEntity> => {
        if (isDiskFull(error)) return { status: 'failed', error: { code: 'disk-full', message: DISK_FULL } };
        this.report(error);
        const message = `What was rendered could not be put into the store: ${(error as Error).message}. See to the data folder, and try it again.`;
        return { status: 'failed', error: { code: 'not-stored', message } };
      });
      const now = this.surroundings.now();
      const store = () =>
        this.database.transaction(async (manager) => {
          // an item that was cancelled or opened again meanwhile belongs to somebody else
          const mine = await manager.findOneBy(RunItemEntity, { id: item.id, status: 'working', lease: attempt.lease });
          if (!mine) return;
          await manager.save(RunItemEntity, { ...mine, ...change, lease: null });
          await finishIfDone(manager, item.runId, now);
        });
      await insist(store, this.interrupted.signal, this.report);
      if (change.outputSha256) this.store.recorded([change.outputSha256]);
    } finally {
      if (this.attempts.get(item.id) === attempt) this.attempts.delete(item.id);
      const { spoolFolder, outputPath, pictures } = attempt;
      for (const path of [spoolFolder, outputPath, pictures.surveyPath, pictures.copyPath])
        await this.store.discard(path);
    }
    await this.runs.publish(item.runId, [item.id]);
  }

  private async outcome(attempt: Attempt, end: JobEnd): Promise<Partial<RunItemEntity> & { status: ItemStatus }> {
    const seconds = (performance.now() - attempt.startedMs) / 1000;
    if (end.type === 'failed') return { status: 'failed', error: end.error, seconds };
    if (end.type !== 'rendered') return { status: this.interrupted.signal.aborted ? 'queued' : 'cancelled' };
    const { sha256, sizeBytes } = await this.store.adopt(attempt.outputPath);
    await this.store.placeDerived(attempt.pictures.surveyPath, sha256, '.survey');
    if (end.copied) await this.store.placeDerived(attempt.pictures.copyPath, sha256, '.wav');
    const { verdict, after, limits, findings, overview, timeMap } = end;
    return {
      status: verdict,
      after,
      limits,
      findings,
      timeMap,
      overview,
      error: null,
      recipe: attempt.recipe,
      outputSha256: sha256,
      outputBytes: sizeBytes,
      cleared: false,
      remake: false,
      seconds,
    };
  }
}
