import { isDeepStrictEqual } from 'node:util';
import type { ItemRemedy, RemedyRequest } from '@tonos/contract';
import { alikeAdjusted } from '@tonos/core';
import type { Remedy } from '@tonos/render';
import { Mutex } from 'async-mutex';
import { LRUCache } from 'lru-cache';
import { In } from 'typeorm';
import { ChainRevisionEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import { beginOf } from '../outside/basis.ts';
import { byHandOf, markedOf, pickUpsOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import type { RemedyJob } from '../workers/messages.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { secondsLeft } from '../workers/seconds-left.ts';
import { RunEntity, RunItemEntity } from './run-entity.ts';
import type { RunService } from './run-service.ts';

interface Needs {
  database: Database;
  runs: RunService;
  recordings: RecordingService;
  store: BlobStore;
  bus: EventBus;
  queue: OneAtATime;
}

/** Renders take their time: what was found is applied, or asked for again, without them. */
const MOST_REMEMBERED = 2000;

type Question = Omit<RemedyJob, 'folder'>;

/** An item that is off target, with all that its remedy hangs on; in words where there is nothing to seek. */
interface Asked {
  item: RunItemEntity;
  question: Question | string;
}

/** What would bring the items of a run that are off target inside, found on the whole of each recording; applied where asked. */
export class RemedyService {
  /** By all that a remedy hangs on. */
  private readonly known = new LRUCache<string, Remedy>({ max: MOST_REMEMBERED });
  /** Applying adjusts recordings and then renders items again: nobody asks, or applies, between the two. */
  private readonly acts = new Mutex();

  constructor(private readonly needs: Needs) {}

  async find(runId: string, { itemIds, apply }: RemedyRequest, wanted: AbortSignal): Promise<ItemRemedy[]> {
    const { database } = this.needs;
    const run = await database.of(RunEntity).findOneBy({ id: runId });
    if (!run) throw notFound('run', runId);
    const asked = await this.acts.runExclusive(() => this.askedOf(run, itemIds));
    const remedies: ItemRemedy[] = [];
    for (const one of asked) remedies.push(await this.remedyOf(one, run.titleId, wanted));
    if (apply && !wanted.aborted) await this.acts.runExclusive(() => this.apply(run, asked, remedies));
    return remedies;
  }

  private async askedOf(run: RunEntity, itemIds?: readonly string[]): Promise<Asked[]> {
    const items = await this.needs.database
      .of(RunItemEntity)
      .find({ where: { runId: run.id }, order: { position: 'ASC' } });
    const unknown = itemIds?.find((id) => !items.some((item) => item.id === id));
    if (unknown) throw notFound('item of this run', unknown);
    const off = items.filter(({ id, status }) => status === 'off-target' && (!itemIds || itemIds.includes(id)));
    if (itemIds && off.length < new Set(itemIds).size)
      throw new HttpProblem(
        409,
        'not-off-target',
        'Only an item that is off target has a remedy; one of these is not.',
      );
    const asked: Asked[] = [];
    for (const item of off) asked.push({ item, question: await this.questionOf(item, run) });
    return asked;
  }

  /** Adjusts the recordings that a remedy helps, and renders them again; what somebody else changed or settled meanwhile stays. */
  private async apply(run: RunEntity, asked: readonly Asked[], remedies: readonly ItemRemedy[]): Promise<void> {
    const { database, recordings, runs } = this.needs;
    const helped = asked.flatMap(({ item, question }, i) =>
      remedies[i].adjustments.length ? [{ item, question, steps: remedies[i].adjustments }] : [],
    );
    const off = await database.of(RunItemEntity).findBy({
      id: In(helped.map(({ item }) => item.id)),
      status: 'off-target',
    });
    const still: typeof helped = [];
    for (const one of helped)
      if (
        off.some(({ id }) => id === one.item.id) &&
        isDeepStrictEqual(await this.questionOf(one.item, run), one.question)
      )
        still.push(one);
    if (!still.length) return;
    const own = still.map(({ item, steps }) => ({ id: item.recordingId, steps }));
    for (const { ids, steps } of alikeAdjusted(own))
      await recordings.change({ ids, adjust: { chainId: run.chainId!, steps, clear: [], replace: true } });
    await runs.retry(run.id, { itemIds: still.map(({ item }) => item.id) });
  }

  private async remedyOf({ item, question }: Asked, titleId: string, wanted: AbortSignal): Promise<ItemRemedy> {
    const nothing = (sentence: string): ItemRemedy => ({
      itemId: item.id,
      adjustments: [],
      forecast: { verdict: 'off-target', limits: item.limits ?? [] },
      sentence,
    });
    if (typeof question === 'string') return nothing(question);
    const key = JSON.stringify(question);
    const remedy = this.known.get(key) ?? (await this.seek(item, titleId, question, wanted));
    if (typeof remedy === 'string') return nothing(remedy);
    this.known.set(key, remedy);
    return { itemId: item.id, ...remedy };
  }

  private async questionOf({ recordingId, after }: RunItemEntity, run: RunEntity): Promise<Question | string> {
    if (run.orderId) return 'It was put together by a running order: change that, or one of the chains in it.';
    if (after?.rmsDbfs === null) return 'It is digital silence: nothing brings that inside.';
    const { database, store } = this.needs;
    const { chainId, revision, targetId } = run as RunEntity & { chainId: string };
    const { file } = await database.of(ChainRevisionEntity).findOneByOrFail({ chainId, revision });
    const target = await database.of(TargetEntity).findOneByOrFail({ id: targetId });
    const recording = await database.of(RecordingEntity).findOneByOrFail({ id: recordingId });
    const { name } = recording;
    const pickUps = await pickUpsOf(database.of(RecordingEntity), recording.cuts);
    const { sha256, steps, frozen } = beginOf(recording.sha256, file.steps, recording.frozen[chainId]);
    return {
      type: 'remedy',
      path: store.pathOf(sha256),
      name,
      steps,
      adjustments: recording.adjustments[chainId] ?? [],
      target: target.file,
      byHand: {
        ...byHandOf(markedOf(recording), pickUps, store),
        ...(frozen && { frozen: { timeMap: frozen.timeMap } }),
      },
    };
  }

  /** @returns the remedy, or in words why it was not found */
  private async seek(
    item: RunItemEntity,
    titleId: string,
    question: Question,
    wanted: AbortSignal,
  ): Promise<Remedy | string> {
    const { store, queue, bus } = this.needs;
    const { id: itemId, runId } = item;
    const folder = await store.spoolFolder();
    try {
      let begun: number | undefined;
      const progress = (share: number, stage: string) => {
        begun ??= performance.now();
        const left = secondsLeft(begun, share, performance.now());
        bus.publish({ type: 'item-progress', titleId, runId, itemId, share, stage, secondsLeft: left });
      };
      const end = await queue.run({ ...question, folder }, { wanted, stops: true, progress });
      if (end.type === 'failed') return end.error.message;
      return end.type === 'remedied' ? end.remedy : 'It was stopped before it was found.';
    } finally {
      await store.discard(folder);
    }
  }
}
