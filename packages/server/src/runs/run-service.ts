import type {
  Acceptance,
  Attempt,
  ItemStatus,
  NewOrderRun,
  NewRun,
  RecordingItem,
  RetryRequest,
  RowsQuery,
  Run,
  RunChange,
  RunItem,
  RunSummary,
} from '@tonos/contract';
import { type EntityManager, type FindOptionsWhere, In, IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { KeptAtMark } from '../events/kept-at-mark.ts';
import { caller } from '../http/caller.ts';
import { JsonText } from '../http/json-text.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import type { RecordingEntity } from '../recordings/recording-entity.ts';
import { freeBytes } from '../storage/free-bytes.ts';
import type { Surroundings } from '../surroundings.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { checkApproved } from './approved.ts';
import { checkRoom, diskNeed } from './disk-need.ts';
import { gather, type Ingredients } from './ingredients.ts';
import { OPEN } from './open-items.ts';
import { gatherOrder } from './order-ingredients.ts';
import { namedAs, programmesNeed } from './order-parts.ts';
import { deliveredNames } from './output-names.ts';
import { RunAttempts } from './run-attempts.ts';
import { RunEntity, RunItemEntity } from './run-entity.ts';
import { RunItems } from './run-items.ts';
import { runSummaries } from './run-summaries.ts';
import { toMakeAnew } from './to-make-anew.ts';

const DONE: ItemStatus[] = ['within', 'off-target'];
/** SQLite takes so many values in one go that this many rows fit well. */
const ROWS_AT_ONCE = 200;
/** More items than this at once are asked for by who looks at them. */
const MOST_TOLD = 50;
const CANCELLED = { status: 'cancelled' as const };
const CLEARED = {
  lease: null,
  machine: null,
  after: null,
  limits: null,
  findings: null,
  timeMap: null,
  parts: null,
  chapters: null,
  overview: null,
  error: null,
  recipe: null,
  accepted: null,
  outputSha256: null,
  outputBytes: null,
  cleared: false,
  remake: false,
  seconds: null,
};

/** Runs and their items: started, looked at, cancelled, tried again. The work itself is RenderJobs'. */
export class RunService {
  private readonly attempts: RunAttempts;
  /** As they are looked at. */
  readonly items: RunItems;
  /** How all stand that do not lie in the trash, the newest first. */
  private readonly all: KeptAtMark<RunSummary[]>;

  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
    private readonly room: { folder: string; threads: number },
  ) {
    this.attempts = new RunAttempts(database, surroundings);
    this.items = new RunItems(database);
    this.all = new KeptAtMark(bus, () => this.summarised());
  }

  /** @param open only those that are under way */
  async list({ open = false } = {}): Promise<RunSummary[]> {
    const { sees } = caller();
    const runs = await (open ? this.summarised({ status: In(['queued', 'working']) }) : this.all.get());
    return runs.filter(({ titleId }) => sees(titleId));
  }

  private async summarised(only: FindOptionsWhere<RunEntity> = {}): Promise<RunSummary[]> {
    const runs = await this.database
      .of(RunEntity)
      .createQueryBuilder('run')
      .innerJoin(TitleEntity, 'title', 'title.id = run.titleId AND title.trashedAt IS NULL')
      .where({ trashedAt: IsNull(), ...only })
      .orderBy('run.createdAt', 'DESC')
      .getMany();
    return runSummaries(this.database, runs);
  }

  /** What every run came to for a recording, in any of its takes; the newest run first. */
  async ofRecording(recordingId: string): Promise<RecordingItem[]> {
    const items = await this.items.ofRecording(recordingId);
    const runs = await this.database
      .of(RunEntity)
      .findBy({ id: In(items.map(({ runId }) => runId)), trashedAt: IsNull() });
    const summaryOf = new Map((await runSummaries(this.database, runs)).map((run) => [run.id, run]));
    return items
      .flatMap(({ before: _, findings: __, ...item }) => {
        const run = summaryOf.get(item.runId);
        if (!run) return [];
        const { createdAt, chainId, chainName, revision, orderId, targetId, targetName } = run;
        return [{ ...item, run: { createdAt, chainId, chainName, revision, orderId, targetId, targetName } }];
      })
      .sort((a, b) => b.run.createdAt.localeCompare(a.run.createdAt));
  }

  async get(id: string): Promise<Run> {
    const run = await this.find(id);
    const [head, items] = await Promise.all([this.head(run), this.items.listOf(id)]);
    return { ...head, items };
  }

  /** As `get`, or with some of its items, in JSON. */
  async text(id: string, some: RowsQuery): Promise<JsonText<Run>> {
    const run = await this.find(id);
    const [head, items] = await Promise.all([this.head(run), this.items.jsonOf(id, some)]);
    return new JsonText(`${JSON.stringify(head).slice(0, -1)},"items":[${items.join(',')}]}`);
  }

  private async head(run: RunEntity): Promise<Omit<Run, 'items'>> {
    const target = this.database.of(TargetEntity).findOneByOrFail({ id: run.targetId });
    const [summary, { file }] = await Promise.all([this.summary(run), target]);
    return { ...summary, targetLimits: file.limits };
  }

  /** A person takes an item that is off target into the delivery. */
  async accept(id: string, itemId: string, { reason }: Acceptance): Promise<RunItem> {
    return this.setAccepted(id, itemId, { reason, at: this.surroundings.now(), by: caller().name });
  }

  async withdrawAcceptance(id: string, itemId: string): Promise<void> {
    await this.setAccepted(id, itemId, null);
  }

  private async setAccepted(id: string, itemId: string, accepted: RunItem['accepted']): Promise<RunItem> {
    await this.database.transaction(async (manager) => {
      const item = await manager.findOneBy(RunItemEntity, { id: itemId, runId: id });
      if (!item) throw notFound('item', itemId);
      if (item.status !== 'off-target')
        throw new HttpProblem(
          409,
          'not-off-target',
          `Only an item that is off target can be accepted; this one is ${item.status}.`,
        );
      await manager.update(RunItemEntity, { id: itemId }, { accepted });
    });
    await this.publish(id, [itemId]);
    return (await this.items.listOf(id, [itemId]))[0];
  }

  /** Earlier outcomes of an item, the newest first. */
  earlier(id: string, itemId: string): Promise<Attempt[]> {
    return this.attempts.list(id, itemId);
  }

  /** Delivers an earlier outcome of an item instead of how it stands. */
  async useEarlier(id: string, itemId: string, attemptId: string): Promise<RunItem> {
    await this.attempts.use(id, itemId, attemptId);
    await this.publish(id, [itemId]);
    return (await this.items.listOf(id, [itemId]))[0];
  }

  /** What a run would be made of; refused where it could not be started. */
  async ingredients(wanted: NewRun): Promise<Ingredients> {
    return this.database.transaction((manager) => gather(manager, wanted));
  }

  /** @param also what is to be written with it, all or nothing */
  async start(wanted: NewRun, also: (manager: EntityManager) => Promise<unknown> = async () => {}): Promise<Run> {
    const { titleId, chainId, targetId } = wanted;
    const { folder, threads } = this.room;
    const id = await this.database.transaction(async (manager) => {
      const ingredients = await gather(manager, wanted);
      const { recordings, chain, revision, target, unapproved } = ingredients;
      checkApproved(unapproved);
      const sounds = recordings.flatMap(({ measurement }) => (measurement ? [measurement] : []));
      checkRoom(diskNeed(target, chain.steps, sounds, threads), await freeBytes(folder));
      const { names } = deliveredNames(ingredients);
      const items = recordings.map((recording, i) => ({ recording, fill: null, outputName: names[i] }));
      const made = await this.insert(
        manager,
        { titleId, chainId, revision, targetId, orderId: null, order: null, unapproved },
        items,
      );
      await manager.update(TitleEntity, { id: titleId }, { chainId, targetId });
      await also(manager);
      return made;
    });
    await this.publish(id);
    return this.get(id);
  }

  /** A run of a running order: an item for each programme. */
  async startOrder(wanted: NewOrderRun): Promise<Run> {
    const { titleId, orderId, targetId } = wanted;
    const { folder, threads } = this.room;
    const id = await this.database.transaction(async (manager) => {
      const { programmes, order, revision, unapproved, ...ingredients } = await gatherOrder(manager, wanted);
      checkApproved(unapproved);
      checkRoom(programmesNeed(ingredients.target, order, programmes, threads), await freeBytes(folder));
      const named = programmes.map((programme) => namedAs(programme, order));
      const { names } = deliveredNames({ ...ingredients, recordings: named });
      const recordings = Object.fromEntries([...programmes[0].recordings].map(([part, own]) => [part, own.id]));
      return this.insert(
        manager,
        { titleId, chainId: null, revision, targetId, orderId, order: { file: order, recordings }, unapproved },
        programmes.map(({ body, fill }, i) => ({ recording: body, fill, outputName: names[i] })),
      );
    });
    await this.publish(id);
    return this.get(id);
  }

  private async insert(
    manager: EntityManager,
    run: Pick<RunEntity, 'titleId' | 'chainId' | 'revision' | 'targetId' | 'orderId' | 'order' | 'unapproved'>,
    wanted: readonly (Pick<RunItemEntity, 'fill' | 'outputName'> & { recording: RecordingEntity })[],
  ): Promise<string> {
    const { newId, now } = this.surroundings;
    const id = newId();
    await manager.save(RunEntity, {
      ...run,
      id,
      status: 'queued',
      paused: false,
      priority: 0,
      createdAt: now(),
      by: caller().name,
      startedAt: null,
      finishedAt: null,
      trashedAt: null,
    });
    const items = wanted.map(({ recording, ...item }, i) => ({
      ...item,
      id: newId(),
      runId: id,
      recordingId: recording.id,
      position: i + 1,
      status: 'queued' as const,
      before: recording.measurement,
      ...CLEARED,
    }));
    for (let from = 0; from < items.length; from += ROWS_AT_ONCE)
      await manager.insert(RunItemEntity, items.slice(from, from + ROWS_AT_ONCE));
    return id;
  }

  /** What is under way ends; nothing more is begun until the run goes on. */
  async change(id: string, { paused, first }: RunChange): Promise<Run> {
    await this.find(id);
    const highest = (await this.database.of(RunEntity).maximum('priority')) ?? 0;
    const change = { ...(paused === undefined ? {} : { paused }), ...(first ? { priority: highest + 1 } : {}) };
    if (Object.keys(change).length)
      await this.database.transaction((manager) => manager.update(RunEntity, { id }, change));
    await this.publish(id);
    return this.get(id);
  }

  /** Cancels what is not finished; finished items stay. */
  async cancel(id: string): Promise<Run> {
    const run = await this.find(id);
    const open = await this.database.transaction(async (manager) => {
      const items = await manager.findBy(RunItemEntity, { runId: id, status: In(OPEN) });
      if (!items.length) return items;
      const [remade, plain] = [items.filter(({ remake }) => remake), items.filter(({ remake }) => !remake)];
      await manager.update(RunItemEntity, { id: In(plain.map((item) => item.id)) }, { ...CANCELLED, lease: null });
      for (const { id: itemId, limits } of remade)
        await manager.update(RunItemEntity, { id: itemId }, { ...unmade(limits), lease: null });
      // a run whose files were only to be made again is finished as it was
      const status = items.every(({ remake }) => remake) ? 'finished' : 'cancelled';
      await manager.update(RunEntity, { id: run.id }, { status, finishedAt: this.surroundings.now() });
      return items;
    });
    await this.publish(
      id,
      open.map((item) => item.id),
    );
    return this.get(id);
  }

  /** Opens failed or chosen items again, and the run with them. */
  retry(id: string, { itemIds }: RetryRequest): Promise<Run> {
    return this.reopen(id, async (manager) => {
      const items = await manager.findBy(RunItemEntity, { runId: id });
      const unknown = itemIds?.find((one) => !items.some((item) => item.id === one));
      if (unknown) throw notFound('item of this run', unknown);
      const wanted = items.filter((item) =>
        itemIds ? itemIds.includes(item.id) && !OPEN.includes(item.status) : item.status === 'failed',
      );
      const chosen = await toMakeAnew(manager, wanted, items);
      const ids = chosen.map((item) => item.id);
      await this.attempts.keep(manager, ids);
      await manager.update(RunItemEntity, { id: In(ids) }, { ...CLEARED, status: 'queued' });
      return ids;
    });
  }

  /** Makes files that were cleared again, each from its recipe. */
  remake(id: string): Promise<Run> {
    return this.reopen(id, async (manager) => {
      const cleared = await manager.findBy(RunItemEntity, { runId: id, cleared: true, status: In(DONE) });
      const done = await manager.findBy(RunItemEntity, { runId: id, status: In(DONE) });
      const items = await toMakeAnew(manager, cleared, done);
      const ids = items.map((item) => item.id);
      await manager.update(RunItemEntity, { id: In(ids) }, { status: 'queued', remake: true });
      return ids;
    });
  }

  /** Opens a run again for items that `open` puts into the queue; where it names none, nothing changes. */
  private async reopen(id: string, open: (manager: EntityManager) => Promise<string[]>): Promise<Run> {
    await this.find(id);
    const reopened = await this.database.transaction(async (manager) => {
      const ids = await open(manager);
      if (ids.length)
        await manager.update(RunEntity, { id }, { status: 'queued', paused: false, startedAt: null, finishedAt: null });
      return ids;
    });
    await this.publish(id, reopened);
    return this.get(id);
  }

  /** Tells listeners how a run, and some of its items, stand now. */
  async publish(id: string, itemIds: readonly string[] = []): Promise<void> {
    // it may have been thrown away just after it ended
    const run = await this.database.of(RunEntity).findOneBy({ id });
    if (!run) return;
    const { titleId } = run;
    this.bus.note({ type: 'run-moved', titleId, runId: id });
    if (!this.bus.isHeard) return;
    if (itemIds.length > MOST_TOLD) this.bus.publish({ type: 'run-moved', titleId, runId: id });
    else if (itemIds.length)
      for (const item of await this.items.listOf(id, itemIds)) this.bus.publish({ type: 'item', titleId, item });
    this.bus.publish({ type: 'run', run: await this.summary(run) });
  }

  private async summary(run: RunEntity): Promise<RunSummary> {
    return (await runSummaries(this.database, [run]))[0];
  }

  private async find(id: string): Promise<RunEntity> {
    const run = checkThere('run', id, await this.database.of(RunEntity).findOneBy({ id }));
    checkThere('title', run.titleId, await this.database.of(TitleEntity).findOneBy({ id: run.titleId }));
    return run;
  }
}

/** An item that was to be made again, and is not: as it was, without its file. */
const unmade = (limits: RunItemEntity['limits']) => ({
  status: (limits ?? []).every(({ required, result }) => !required || result === 'within')
    ? ('within' as const)
    : ('off-target' as const),
  remake: false,
});
