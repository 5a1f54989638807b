import type { ItemStatus, RecipeInput } from '@tonos/contract';
import { adjustChain } from '@tonos/core';
import { Not } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { byHandOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { DISK_FULL, insist, isDiskFull } from '../storage/disk-full.ts';
import type { Surroundings } from '../surroundings.ts';
import type { Work, WorkSource } from '../workers/dispatcher.ts';
import type { AssembleJob, Job, JobEnd, RenderJob } from '../workers/messages.ts';
import { secondsLeft } from '../workers/seconds-left.ts';
import { type LeasedItem, leaseItems } from './lease-items.ts';
import { bodyOf } from './order-ingredients.ts';
import { partFiles } from './order-parts.ts';
import { notesOf, pictureOf } from './recipe.ts';
import { RunEntity, RunItemEntity } from './run-entity.ts';
import { finishIfDone, type RunService } from './run-service.ts';

/** An attempt at an item, from lease to end. */
interface Attempt {
  titleId: string;
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
      return item && leaseItems(manager, item, { lease, now: this.surroundings.now(), version: this.version });
    });
    if (!taken) return undefined;
    const { runId, titleId, refused, items } = taken;
    if (refused) {
      await this.runs.publish(runId, [refused]);
      return this.take();
    }
    const controller = new AbortController();
    for (const { item, recipe } of items) {
      // P16: known before anything else is waited for, so that cancelling and stopping reach it
      this.attempts.set(item.id, {
        titleId,
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
    return {
      job: this.wholeJob(items, attempts),
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

  private wholeJob(items: readonly LeasedItem[], attempts: readonly Attempt[]): Job {
    const [{ recipe }] = items;
    if (recipe.order) return this.assembleJob(items[0], recipe.order, attempts[0]);
    const jobs = items.map((one, i) => this.jobOf(one, attempts[i]));
    if (jobs.length === 1 && !recipe.set) return { type: 'render', ...jobs[0] };
    return {
      type: 'render-set',
      name: jobs.map(({ name }) => name).join(', '),
      members: jobs.map((job, i) => ({ ...job, earlier: undefined, place: items[i].recipe.set!.place })),
    };
  }

  private assembleJob(
    item: LeasedItem,
    { file, parts }: NonNullable<RecipeInput['order']>,
    attempt: Attempt,
  ): AssembleJob {
    const { path: _, steps: __, earlier: ___, byHand: ____, ...job } = this.jobOf(item, attempt);
    return { ...job, type: 'assemble', order: file, files: partFiles(parts, this.store), of: bodyOf(file).id };
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

  private tell(item: RunItemEntity, attempt: Attempt, share: number, stage: string): void {
    const left = secondsLeft(attempt.startedMs, share, performance.now());
    const { titleId } = attempt;
    this.bus.publish({
      type: 'item-progress',
      titleId,
      runId: item.runId,
      itemId: item.id,
      share,
      stage,
      secondsLeft: left,
    });
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
    const { verdict, after, limits, findings, overview, timeMap, parts, chapters } = end;
    const names = new Map(attempt.recipe.order?.file.parts.map(({ id, name }) => [id, name || id]));
    return {
      status: verdict,
      after,
      limits,
      findings,
      timeMap,
      parts: parts?.map((part) => ({ ...part, name: names.get(part.id)! })) ?? null,
      chapters: chapters ?? null,
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
