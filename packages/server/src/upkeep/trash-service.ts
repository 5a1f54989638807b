import type { TrashChoice, TrashEmptied, TrashEntry, TrashKind } from '@tonos/contract';
import { type EntityManager, In, IsNull, Not, type Repository } from 'typeorm';
import { ChainEntity, ChainRevisionEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller, checkRole } from '../http/caller.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import { ArrivalEntity } from '../inbox/arrival-entity.ts';
import { ModuleEntity } from '../modules/module-entity.ts';
import { usersOfModule, usesOfModules } from '../modules/module-service.ts';
import { OrderEntity, OrderRevisionEntity } from '../orders/order-entity.ts';
import { PresetEntity } from '../presets/preset-entity.ts';
import { checkOwn } from '../presets/preset-service.ts';
import { OverviewEntity } from '../recordings/overview-entity.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import { DraftEntity } from '../revisions/draft-entity.ts';
import { OPEN } from '../runs/open-items.ts';
import { RunAttemptEntity } from '../runs/run-attempt-entity.ts';
import { RunEntity, RunItemEntity } from '../runs/run-entity.ts';
import type { Surroundings } from '../surroundings.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { checkOwnTarget } from '../targets/target-service.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { StorageService, Use } from './storage-service.ts';
import { UseIndex } from './use-index.ts';

/** In the order in which they are removed: what goes first may be what needs the next one. */
const ENTITIES = {
  title: TitleEntity,
  run: RunEntity,
  order: OrderEntity,
  recording: RecordingEntity,
  chain: ChainEntity,
  target: TargetEntity,
  preset: PresetEntity,
  module: ModuleEntity,
} as const;
const KINDS = Object.keys(ENTITIES) as TrashKind[];

/** What of a row tells of it: the rest can be large. */
const COLUMNS: Readonly<Record<TrashKind, readonly string[]>> = {
  title: ['id', 'trashedAt', 'name'],
  run: ['id', 'trashedAt', 'titleId', 'createdAt', 'targetId'],
  order: ['id', 'trashedAt', 'titleId', 'name'],
  recording: ['id', 'trashedAt', 'titleId', 'name'],
  chain: ['id', 'trashedAt', 'name'],
  target: ['id', 'trashedAt', 'name'],
  preset: ['id', 'trashedAt', 'name'],
  module: ['id', 'trashedAt', 'name'],
};

/** A row of any kind, as far as the trash cares. */
interface Row {
  id: string;
  name?: string;
  titleId?: string;
  trashedAt: string | null;
  removedAt?: string | null;
}

interface TrashNeeds {
  database: Database;
  recordings: RecordingService;
  storage: StorageService;
  bus: EventBus;
  surroundings: Surroundings;
}

/** What people threw away: it is out of their sight, comes back whole, and goes for good only when somebody says so. */
export class TrashService {
  /** What it would give, until something comes or goes. */
  private knownBytes: Promise<number> | undefined;

  constructor(private readonly needs: TrashNeeds) {
    needs.bus.watch(({ type }) => {
      if (type === 'trash' || type === 'recordings') this.knownBytes = undefined;
    });
  }

  /** The room that emptying it gives. */
  bytes(): Promise<number> {
    this.knownBytes ??= this.all().then((entries) => entries.reduce((sum, entry) => sum + entry.bytes, 0));
    this.knownBytes.catch(() => {
      this.knownBytes = undefined;
    });
    return this.knownBytes;
  }

  /** As far as who asks may know of it. */
  async list(): Promise<TrashEntry[]> {
    const { sees } = caller();
    return (await this.all()).filter(({ titleId }) => titleId === null || sees(titleId));
  }

  private async all(): Promise<TrashEntry[]> {
    const rows: [TrashKind, Row][] = [];
    for (const kind of KINDS) for (const row of await this.trashed(kind)) rows.push([kind, row]);
    if (!rows.length) return [];
    const { database, storage } = this.needs;
    const uses = new UseIndex(await storage.uses());
    const needed = await database.transaction(async (manager) => {
      const all: (string | null)[] = [];
      for (const [kind, row] of rows) all.push(await neededBy(manager, kind, row.id));
      return all;
    });
    const entries: TrashEntry[] = [];
    for (const [k, [kind, row]] of rows.entries()) {
      const own = uses.of(kind, await this.idsOf(kind, row));
      const count = (which: Use['kind']) => own.filter((use) => use.kind === which).length;
      entries.push({
        kind,
        id: row.id,
        name: await this.nameOf(kind, row),
        titleId: kind === 'title' ? row.id : (row.titleId ?? null),
        titleName: row.titleId ? ((await database.of(TitleEntity).findOneBy({ id: row.titleId }))?.name ?? null) : null,
        trashedAt: row.trashedAt!,
        contains: {
          recordings: count('source'),
          runs: kind === 'run' ? 1 : kind === 'title' ? await database.of(RunEntity).countBy({ titleId: row.id }) : 0,
          deliveries: count('delivery'),
        },
        bytes: await roomOf(storage, uses.freedBy(own)),
        neededBy: needed[k],
      });
    }
    return entries.sort((a, b) => b.trashedAt.localeCompare(a.trashedAt));
  }

  /** @throws HttpProblem 404, or 409 for what is in use, under way or ships with the program */
  async put(kind: TrashKind, id: string): Promise<undefined> {
    if (kind === 'preset') checkOwn(id);
    const { database, recordings, surroundings } = this.needs;
    const found = await database.of<Row>(ENTITIES[kind]).findOneBy({ id });
    const row = checkThere(kind, id, found?.removedAt ? null : found);
    if (kind === 'recording') await recordings.change({ ids: [id], trashed: true });
    else {
      await database.transaction(async (manager) => {
        await checkMayPut(manager, kind, row);
        const why = await refusal(manager, kind, row);
        if (why) throw new HttpProblem(409, why.code, why.message);
        await manager.update(ENTITIES[kind], { id }, { trashedAt: surroundings.now() });
      });
    }
    this.tell(kind, row);
  }

  async restore(kind: TrashKind, id: string): Promise<TrashEntry[]> {
    const { database, recordings } = this.needs;
    const row = await database.of<Row>(ENTITIES[kind]).findOneBy({ id, trashedAt: Not(IsNull()) });
    if (!row || row.removedAt) throw notFound(`${kind} in the trash`, id);
    if (kind === 'recording') await recordings.change({ ids: [id], trashed: false });
    else await database.transaction((manager) => manager.update<Row>(ENTITIES[kind], { id }, { trashedAt: null }));
    this.tell(kind, row);
    return this.list();
  }

  /** Rows go first, then the files that nothing else needs: a crash between leaves files that the account of the store calls unused. */
  async empty({ kind, id }: TrashChoice): Promise<TrashEmptied> {
    const { database, storage } = this.needs;
    const removed: TrashEmptied['removed'] = [];
    const kept: TrashEmptied['kept'] = [];
    const released: string[] = [];
    const gone: (Pick<Row, 'id' | 'titleId'> & { kind: TrashKind })[] = [];
    const uses = new UseIndex(await storage.uses());
    for (const one of kind ? [kind] : KINDS) {
      const rows = (await this.trashed(one)).filter((row) => id === undefined || row.id === id);
      if (id !== undefined && !rows.length) throw notFound(`${one} in the trash`, id);
      for (const row of rows) {
        const entry = { kind: one, id: row.id, name: await this.nameOf(one, row) };
        const files = uses.of(one, await this.idsOf(one, row)).map(({ sha256 }) => sha256);
        const why = await database.transaction(async (manager) => {
          const needed = await neededBy(manager, one, row.id);
          if (!needed) await REMOVE[one](manager, row.id, this.needs.surroundings.now());
          return needed;
        });
        if (why) kept.push({ ...entry, why });
        else {
          removed.push(entry);
          gone.push({ kind: one, id: row.id, titleId: row.titleId });
          released.push(...files);
        }
      }
    }
    const freedBytes = await storage.release(released);
    for (const one of gone) this.tell(one.kind, one);
    return { removed, kept, freedBytes };
  }

  /** What lies in the trash by itself: not what lies there with its title. */
  private async trashed(kind: TrashKind): Promise<Row[]> {
    const { database } = this.needs;
    const where = { trashedAt: Not(IsNull()), ...(kind === 'recording' ? { removedAt: IsNull() } : {}) };
    const select = Object.fromEntries(COLUMNS[kind].map((name) => [name, true]));
    const rows = await database.of<Row>(ENTITIES[kind]).find({ where, select, order: { trashedAt: 'ASC' } });
    if (kind !== 'recording' && kind !== 'run' && kind !== 'order') return rows;
    const titles = await database
      .of(TitleEntity)
      .find({ where: { id: In(rows.map(({ titleId }) => titleId!)), trashedAt: IsNull() }, select: { id: true } });
    return rows.filter(({ titleId }) => titles.some((title) => title.id === titleId));
  }

  /** By what the uses of its files are known: the takes of a recording, and of everything else its own id. */
  private async idsOf(kind: TrashKind, { id }: Row): Promise<string[]> {
    return kind === 'recording' ? takesOf(this.needs.database.of(RecordingEntity), id) : [id];
  }

  private async nameOf(kind: TrashKind, row: Row): Promise<string> {
    if (kind !== 'run') return row.name!;
    const { createdAt, targetId } = row as unknown as RunEntity;
    const target = await this.needs.database.of(TargetEntity).findOneBy({ id: targetId });
    return `${target?.name ?? 'Run'}, ${createdAt.slice(0, 10)}`;
  }

  private tell(kind: TrashKind, row: Pick<Row, 'id' | 'titleId'>): void {
    const { id } = row;
    const { bus } = this.needs;
    bus.publish({ type: 'trash' });
    if (kind === 'title') bus.publish({ type: 'title', titleId: id });
    if (kind === 'run') bus.publish({ type: 'run-moved', titleId: row.titleId!, runId: id });
    if (kind === 'chain') bus.publish({ type: 'chain', chainId: id });
    if (kind === 'target') bus.publish({ type: 'target', targetId: id });
    if (kind === 'order') bus.publish({ type: 'order', orderId: id, titleId: row.titleId! });
    if (kind === 'preset') bus.publish({ type: 'preset', presetId: id });
    if (kind === 'module') bus.publish({ type: 'module', moduleId: id });
  }
}

/** What deleting files gives in all. */
async function roomOf(storage: StorageService, hashes: readonly string[]): Promise<number> {
  let bytes = 0;
  for (const sha256 of hashes) bytes += await storage.roomOf(sha256);
  return bytes;
}

/** What a lead stands for, and what is somebody else's, is a lead's to throw away. @throws HttpProblem 403 */
async function checkMayPut(manager: EntityManager, kind: TrashKind, row: Row): Promise<void> {
  if (kind === 'target') checkOwnTarget(row as unknown as TargetEntity);
  if (kind !== 'chain' && kind !== 'order') return;
  const approved =
    kind === 'chain'
      ? await manager.existsBy(ChainRevisionEntity, { chainId: row.id, approval: Not(IsNull()) })
      : await manager.existsBy(OrderRevisionEntity, { orderId: row.id, approval: Not(IsNull()) });
  if (approved) checkRole('lead', `throw “${row.name}” away, which is approved`);
}

/** Why something can't be thrown away as it is. */
async function refusal(
  manager: EntityManager,
  kind: TrashKind,
  row: Row,
): Promise<{ code: string; message: string } | undefined> {
  if (kind === 'title' || kind === 'run') {
    const runs = await manager.findBy(RunEntity, kind === 'run' ? { id: row.id } : { titleId: row.id });
    const isOpen = await manager.existsBy(RunItemEntity, { runId: In(runs.map(({ id }) => id)), status: In(OPEN) });
    return isOpen
      ? { code: 'under-way', message: 'A run is still under way there. Cancel it, or wait until it is finished.' }
      : undefined;
  }
  if (kind === 'target' && (row as unknown as TargetEntity).shipped)
    return { code: 'read-only', message: 'Targets that ship stay as they are. Copy this one and change the copy.' };
  if (kind === 'module') {
    const { sha256 } = row as unknown as ModuleEntity;
    const use = (await usesOfModules(manager)).get(sha256);
    const users = use && usersOfModule(use);
    return users
      ? { code: 'in-use', message: `\u201c${row.name}\u201d is used by ${users}. Take it out there first.` }
      : undefined;
  }
  if (kind !== 'chain' && kind !== 'target') return undefined;
  const uses = kind === 'chain' ? { chainId: row.id } : { targetId: row.id };
  const titles = await manager.findBy(TitleEntity, { ...uses, trashedAt: IsNull() });
  const runs = await manager
    .createQueryBuilder(RunEntity, 'run')
    .innerJoin(TitleEntity, 'title', 'title.id = run.titleId AND title.trashedAt IS NULL')
    .where({ ...uses, trashedAt: IsNull() })
    .getCount();
  // what somebody may not know of is not named, nor counted
  const seen = titles.filter(({ id }) => caller().sees(id));
  const users = [
    runs && (titles.length > seen.length ? 'runs' : `${runs} ${runs === 1 ? 'run' : 'runs'}`),
    seen.length && `the ${seen.length === 1 ? 'title' : 'titles'} ${seen.map(({ name }) => name).join(', ')}`,
    seen.length < titles.length && 'others',
  ].filter(Boolean);
  if (!users.length) return undefined;
  const instead = kind === 'chain' ? 'Archive it instead.' : 'Give them another target first.';
  return { code: 'in-use', message: `“${row.name}” is used by ${users.join(' and ')}. ${instead}` };
}

/** What needs it still, so that it can't be removed for good; null where nothing does. */
async function neededBy(manager: EntityManager, kind: TrashKind, id: string): Promise<string | null> {
  if (kind === 'chain' || kind === 'target') {
    const runs = await manager.countBy(RunEntity, kind === 'chain' ? { chainId: id } : { targetId: id });
    return runs ? `${runs === 1 ? 'a run tells' : `${runs} runs tell`} by it what was done` : null;
  }
  if (kind === 'order') {
    const runs = await manager.countBy(RunEntity, { orderId: id });
    return runs ? `${runs === 1 ? 'a run tells' : `${runs} runs tell`} by it what was done` : null;
  }
  if (kind !== 'recording') return null;
  const takes = await takesOf(manager.getRepository(RecordingEntity), id);
  const isOpen = await manager.existsBy(RunItemEntity, { recordingId: In(takes), status: In(OPEN) });
  return isOpen ? 'a run is working on it' : null;
}

/** A recording goes with its earlier takes; an earlier take goes alone. */
async function takesOf(
  recordings: Pick<Repository<RecordingEntity>, 'findOneBy' | 'find'>,
  id: string,
): Promise<string[]> {
  const recording = await recordings.findOneBy({ id });
  if (!recording || recording.superseded) return [id];
  const all = await recordings.find({ where: { takeOf: recording.takeOf }, select: { id: true } });
  return all.map((take) => take.id);
}

type Remove = (manager: EntityManager, id: string, now: string) => Promise<void>;

const removeRuns = async (manager: EntityManager, where: { id: string } | { titleId: string }): Promise<void> => {
  const runs = (await manager.find(RunEntity, { where, select: { id: true } })).map(({ id }) => id);
  const items = await manager.find(RunItemEntity, { where: { runId: In(runs) }, select: { id: true } });
  await manager.delete(RunAttemptEntity, { itemId: In(items.map(({ id }) => id)) });
  await manager.delete(RunItemEntity, { runId: In(runs) });
  await manager.delete(RunEntity, { id: In(runs) });
};

const removeOrder = async (manager: EntityManager, id: string): Promise<void> => {
  await manager.delete(DraftEntity, { thing: 'order', thingId: id });
  await manager.delete(OrderRevisionEntity, { orderId: id });
  await manager.delete(OrderEntity, { id });
};

const REMOVE: Record<TrashKind, Remove> = {
  title: async (manager, id) => {
    await removeRuns(manager, { titleId: id });
    await manager.delete(ArrivalEntity, { titleId: id });
    await manager.delete(RecordingEntity, { titleId: id });
    for (const order of await manager.findBy(OrderEntity, { titleId: id })) await removeOrder(manager, order.id);
    await manager.delete(TitleEntity, { id });
  },
  run: (manager, id) => removeRuns(manager, { id }),
  order: (manager, id) => removeOrder(manager, id),
  // an item tells what it was made of, and a watched folder what it brought in already: what they need of it stays
  recording: async (manager, id, now) => {
    for (const take of await takesOf(manager.getRepository(RecordingEntity), id)) {
      const isTold =
        (await manager.existsBy(RunItemEntity, { recordingId: take })) ||
        (await manager.existsBy(ArrivalEntity, { recordingId: take }));
      if (isTold) {
        await manager.update(RecordingEntity, { id: take }, { ...EMPTIED, trashedAt: now, removedAt: now });
        await manager.delete(OverviewEntity, { recordingId: take });
      } else await manager.delete(RecordingEntity, { id: take });
    }
  },
  chain: async (manager, id) => {
    await manager.update(TitleEntity, { chainId: id }, { chainId: null });
    await manager.delete(DraftEntity, { thing: 'chain', thingId: id });
    await manager.delete(ChainRevisionEntity, { chainId: id });
    await manager.delete(ChainEntity, { id });
  },
  target: async (manager, id) => {
    await manager.update(TitleEntity, { targetId: id }, { targetId: null });
    await manager.delete(TargetEntity, { id });
  },
  preset: async (manager, id) => void (await manager.delete(PresetEntity, { id })),
  module: async (manager, id) => void (await manager.delete(ModuleEntity, { id })),
};

/** All that was heard or said of a recording. Its name and its hash stay. */
const EMPTIED = {
  status: 'unreadable',
  error: { code: 'removed', message: 'It was removed for good. Add the recording again.' },
  measurement: null,
  tags: {},
  marks: [] as never[],
  boxes: [] as never[],
  cuts: [] as never[],
  adjustments: {},
  frozen: {},
  speaker: '',
  microphone: '',
  room: '',
} as const;
