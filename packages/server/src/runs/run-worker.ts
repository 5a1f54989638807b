import type { ItemStatus, RecipeInput } from '@tonos/contract';
import { adjustChain, type EarlierRun } from '@tonos/core';
import { IsNull, Not } from 'typeorm';
import { ChainRevisionEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { byHandOf, pickUpsOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { DISK_FULL, insist, isDiskFull } from '../storage/disk-full.ts';
import type { Surroundings } from '../surroundings.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { Work, WorkSource } from '../workers/dispatcher.ts';
import type { JobEnd } from '../workers/messages.ts';
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
      if (!item) return undefined;
      const recording = await manager.findOneByOrFail(RecordingEntity, { id: item.recordingId });
      const now = this.surroundings.now();
      const run = await manager.findOneByOrFail(RunEntity, { id: item.runId });
      await manager.update(RunEntity, { id: run.id }, { status: 'working', startedAt: run.startedAt ?? now });
      const refused = recording.status === 'unreadable';
      const state = refused
        ? { status: 'failed' as const, error: recording.error }
        : { status: 'working' as const, lease, before: recording.measurement };
      await manager.save(RunItemEntity, { ...item, ...state });
      if (refused) await finishIfDone(manager, run.id, now);
      const { file } = await manager.findOneByOrFail(ChainRevisionEntity, {
        chainId: run.chainId,
        revision: run.revision,
      });
      const target = await manager.findOneByOrFail(TargetEntity, { id: run.targetId });
      const title = await manager.findOneByOrFail(TitleEntity, { id: run.titleId });
      const current = { titleId: run.titleId, superseded: false, trashedAt: IsNull() };
      if (item.remake && item.recipe)
        return { item, recording, refused, recipe: item.recipe, earlier: this.earlierRun([item], item.recipe) };
      const recipe = recipeOf({
        version: this.version,
        recording,
        pickUps: await pickUpsOf(manager.getRepository(RecordingEntity), recording.cuts),
        chain: file,
        chainId: run.chainId,
        revision: run.revision,
        target: target.file,
        title,
        trackTotal: await manager.countBy(RecordingEntity, current),
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
      return { item, recording, refused, recipe, earlier };
    });
    if (!taken) return undefined;
    const { item, recording, refused, recipe, earlier } = taken;
    if (refused) {
      await this.runs.publish(item.runId, [item.id]);
      return this.take();
    }
    const attempt: Attempt = {
      lease,
      controller: new AbortController(),
      outputPath: this.store.temporaryPath(),
      spoolFolder: '',
      recipe,
      pictures: { surveyPath: this.store.temporaryPath(), copyPath: this.store.temporaryPath() },
      startedMs: performance.now(),
    };
    // P16: known before anything else is waited for, so that cancelling and stopping reach it
    this.attempts.set(item.id, attempt);
    if (this.interrupted.signal.aborted) attempt.controller.abort();
    attempt.spoolFolder = await this.store.spoolFolder().catch((error) => {
      this.attempts.delete(item.id);
      return this.giveBack(item, lease, error);
    });
    const picture = pictureOf(recipe);
    return {
      job: {
        type: 'render',
        path: this.store.pathOf(recipe.source.sha256),
        name: recording.name,
        steps: adjustChain(recipe.chain.steps, recipe.adjustments).steps,
        earlier,
        target: recipe.target,
        notes: notesOf(recipe),
        ...(picture ? { picturePath: this.store.pathOf(picture) } : {}),
        byHand: byHandOf(recipe.marked, recipe.pickUps ?? {}, this.store),
        outputPath: attempt.outputPath,
        spoolFolder: attempt.spoolFolder,
        pictures: attempt.pictures,
      },
      signal: attempt.controller.signal,
      begun: () => this.runs.publish(item.runId, [item.id]),
      progress: (share, stage) => this.tell(item, attempt, share, stage),
      end: (end) => this.settle(item, attempt, end),
    };
  }

  /** An item that was taken and can't be begun waits again: nobody would end it. */
  private async giveBack(item: RunItemEntity, lease: string, reason: unknown): Promise<never> {
    const change = () =>
      this.database.transaction((manager) =>
        manager.update(RunItemEntity, { id: item.id, lease }, { status: 'queued', lease: null }),
      );
    await insist(change, this.interrupted.signal, this.report);
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
