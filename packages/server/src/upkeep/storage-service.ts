import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Integrity, Storage } from '@tonos/contract';
import { In } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { ModuleEntity } from '../modules/module-entity.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { LACKS_A_PART } from '../runs/lacks-a-part.ts';
import { RunAttemptEntity } from '../runs/run-attempt-entity.ts';
import { RunEntity, RunItemEntity } from '../runs/run-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { fileHash } from '../storage/file-hash.ts';
import { freeBytes } from '../storage/free-bytes.ts';
import { TitleEntity } from '../titles/title-entity.ts';

/** A file this young may belong to something that is just being recorded. */
const YOUNG_MS = 3_600_000;

/** That something needs a file. */
export interface Use {
  sha256: string;
  titleId: string;
  name: string;
  kind: 'source' | 'delivery' | 'cover' | 'module' | 'outside';
  /** The recording that it is the source of. */
  recordingId?: string;
  /** The run that it was delivered in. */
  runId?: string;
  /** The module that it is. */
  moduleId?: string;
  /** The item that it was delivered for. */
  itemId?: string;
  /** Whether a recipe makes it again. */
  clearable: boolean;
}

/** A use as the database tells it. */
type Delivery = Omit<Use, 'kind' | 'clearable'> & { clearable: number };

const DONE: RunItemEntity['status'][] = ['within', 'off-target'];

/** The account of the data folder: what takes how much, what nobody needs, and whether every file is what it was. */
export class StorageService {
  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly bus: EventBus,
  ) {}

  async account(): Promise<Storage> {
    const [uses, sizes] = [await this.uses(), await this.sizes()];
    const titles = await this.database.of(TitleEntity).find({ order: { createdAt: 'ASC' } });
    const sumOf = (kind: Use['kind'], titleId: string, which = (_: Use) => true) => {
      const own = uses.filter((use) => use.kind === kind && use.titleId === titleId && which(use));
      const files = new Set(own.map(({ sha256 }) => sha256));
      return { count: own.length, bytes: [...files].reduce((sum, sha256) => sum + (sizes.get(sha256)?.bytes ?? 0), 0) };
    };
    const unused = this.unusedOf(uses, sizes);
    return {
      freeBytes: await freeBytes(this.store.folder),
      titles: titles.map(({ id, name }) => {
        const [sources, deliveries] = [sumOf('source', id), sumOf('delivery', id)];
        return {
          id,
          name,
          recordings: sources.count,
          sourceBytes: sources.bytes,
          deliveries: deliveries.count,
          deliveredBytes: deliveries.bytes,
          clearableBytes: sumOf('delivery', id, ({ clearable }) => clearable).bytes,
        };
      }),
      derivedBytes: await folderBytes(join(this.store.folder, 'derived')),
      unused: { files: unused.length, bytes: unused.reduce((sum, sha256) => sum + sizes.get(sha256)!.bytes, 0) },
    };
  }

  /** Deletes what nobody needs. */
  async clearUnused(): Promise<Storage> {
    for (const sha256 of this.unusedOf(await this.uses(), await this.sizes())) await this.store.remove(sha256);
    this.bus.publish({ type: 'storage' });
    return this.account();
  }

  /** Reads every file that is needed and compares it with its name; looks through the database. */
  async check(wanted: AbortSignal): Promise<Integrity> {
    const usersOf = new Map<string, string[]>();
    for (const { sha256, name } of await this.uses()) usersOf.set(sha256, [...(usersOf.get(sha256) ?? []), name]);
    const faults: Integrity['faults'] = [];
    for (const [sha256, usedBy] of usersOf) {
      if (wanted.aborted) break;
      const found = await fileHash(this.store.pathOf(sha256)).catch(() => null);
      if (found === sha256) continue;
      faults.push({ sha256, fault: found === null ? 'missing' : 'altered', usedBy });
    }
    return { files: usersOf.size, faults, database: await this.database.faults() };
  }

  private unusedOf(uses: readonly Use[], sizes: ReadonlyMap<string, { bytes: number; changedMs: number }>): string[] {
    const needed = new Set(uses.map(({ sha256 }) => sha256));
    const young = Date.now() - YOUNG_MS;
    return [...sizes]
      .filter(([sha256, { changedMs }]) => !needed.has(sha256) && changedMs < young)
      .map(([sha256]) => sha256);
  }

  /** Deletes a title's delivered files that their recipes make again; what people said of them stays. */
  async clearRenders(titleId: string): Promise<Storage> {
    const uses = await this.uses();
    const cleared = uses.filter((use) => use.clearable && use.titleId === titleId);
    const items = [...new Set(cleared.map(({ itemId }) => itemId!))];
    await this.database.transaction(async (manager) => {
      await manager.update(RunItemEntity, { id: In(items), status: In(DONE) }, { cleared: true });
      await manager.update(RunAttemptEntity, { itemId: In(items) }, { cleared: true });
    });
    await this.release(cleared.map(({ sha256 }) => sha256));
    for (const runId of new Set(cleared.map((use) => use.runId!)))
      this.bus.publish({ type: 'run-moved', titleId, runId });
    this.bus.publish({ type: 'storage' });
    return this.account();
  }

  /**
   * Deletes those of these files that nothing needs any more: another title may have the very same one, and an item may be on its way
   * again. @returns the room that it gave, in bytes
   */
  async release(hashes: readonly string[]): Promise<number> {
    const needed = new Set((await this.uses()).map(({ sha256 }) => sha256));
    let bytes = 0;
    for (const sha256 of new Set(hashes)) if (!needed.has(sha256)) bytes += (await this.store.remove(sha256)) ?? 0;
    return bytes;
  }

  /** Every file that a recording, an item, one of its earlier attempts or a cover needs. */
  async uses(): Promise<Use[]> {
    const recordings = await this.database.many<Pick<RecordingEntity, 'id' | 'sha256' | 'titleId' | 'name'>>(
      'SELECT id, sha256, "titleId", name FROM recording WHERE "removedAt" IS NULL',
      [],
    );
    const deliveries = this.database
      .of(RunItemEntity)
      .createQueryBuilder('item')
      .innerJoin(RunEntity, 'run', 'run.id = item.runId')
      .innerJoin(RecordingEntity, 'recording', 'recording.id = item.recordingId')
      .select('run.titleId', 'titleId')
      .addSelect('run.id', 'runId')
      .addSelect('item.id', 'itemId')
      .addSelect('item.outputName', 'name')
      .addSelect(
        `item.recipe IS NOT NULL AND item.status IN (:...done) AND recording.removedAt IS NULL AND NOT ${LACKS_A_PART}`,
        'clearable',
      )
      .setParameter('done', DONE);
    const current = deliveries
      .clone()
      .addSelect('item.outputSha256', 'sha256')
      .where('item.outputSha256 IS NOT NULL AND NOT item.cleared');
    const earlier = deliveries
      .clone()
      .innerJoin(RunAttemptEntity, 'attempt', 'attempt.itemId = item.id')
      .addSelect('attempt.outputSha256', 'sha256')
      .where('NOT attempt.cleared');
    const found = [
      ...(await this.database.manyOf<Delivery>(current)),
      ...(await this.database.manyOf<Delivery>(earlier)),
    ];
    return [
      ...(await this.covers()),
      ...(await this.modules()),
      ...(await this.fromOutside()),
      ...recordings.map(
        ({ id, sha256, titleId, name }): Use => ({
          sha256,
          titleId,
          name,
          kind: 'source',
          recordingId: id,
          clearable: false,
        }),
      ),
      ...found.map((one): Use => ({ ...one, kind: 'delivery', clearable: one.clearable === 1 })),
    ];
  }

  /** What stands in recordings, and what recipes call for. */
  private async fromOutside(): Promise<Use[]> {
    const found = await this.database.many<Omit<Use, 'kind' | 'clearable'> & { runId: string | null }>(
      `SELECT json_extract(one.value, '$.sha256') AS sha256, recording."titleId", json_extract(one.value, '$.name') AS name,
          recording.id AS "recordingId", NULL AS "runId"
        FROM recording, json_each(recording.frozen) one WHERE recording.frozen != '{}'
      UNION SELECT json_extract(item.recipe, '$.frozen.sha256'), run."titleId", json_extract(item.recipe, '$.frozen.name'), NULL, run.id
        FROM run_item item JOIN run ON run.id = item."runId" WHERE json_extract(item.recipe, '$.frozen') IS NOT NULL`,
      [],
    );
    return found.map(
      ({ runId, recordingId, ...one }): Use => ({
        ...one,
        ...(runId && { runId }),
        ...(recordingId && { recordingId }),
        kind: 'outside',
        clearable: false,
      }),
    );
  }

  /** Of the library, which belongs to no title. */
  private async modules(): Promise<Use[]> {
    const modules = await this.database.of(ModuleEntity).find({ select: { id: true, sha256: true, name: true } });
    return modules.map(
      ({ id, sha256, name }): Use => ({ sha256, titleId: '', name, kind: 'module', moduleId: id, clearable: false }),
    );
  }

  /** Those that titles have, and those that recipes call for. */
  private async covers(): Promise<Use[]> {
    const titles = await this.database.of(TitleEntity).find({ select: { id: true, cover: true } });
    const query = this.database
      .of(RunItemEntity)
      .createQueryBuilder('item')
      .innerJoin(RunEntity, 'run', 'run.id = item.runId')
      .select('run.titleId', 'titleId')
      .addSelect('run.id', 'runId')
      .addSelect(`json_extract(item.recipe, '$.notes.picture.sha256')`, 'sha256')
      .where(`json_extract(item.recipe, '$.notes.picture.sha256') IS NOT NULL`)
      .groupBy('run.titleId, run.id, sha256');
    const recipes = await this.database.manyOf<{ titleId: string; runId: string; sha256: string }>(query);
    const own = titles.flatMap(({ id, cover }) => (cover ? [{ titleId: id, sha256: cover.sha256 }] : []));
    return [...own, ...recipes].map((one): Use => ({ ...one, name: 'cover', kind: 'cover', clearable: false }));
  }

  /** The room that deleting a file gives: its own, and that of what was derived from it. */
  async roomOf(sha256: string): Promise<number> {
    const paths = [this.store.pathOf(sha256), ...this.store.derivedPaths(sha256)];
    const sizes = await Promise.all(
      paths.map((path) =>
        stat(path).then(
          ({ size }) => size,
          () => 0,
        ),
      ),
    );
    return sizes.reduce((sum, size) => sum + size, 0);
  }

  async sizes(): Promise<Map<string, { bytes: number; changedMs: number }>> {
    const folder = join(this.store.folder, 'blobs');
    const names = await readdir(folder);
    return new Map(
      await Promise.all(
        names.map(async (name): Promise<[string, { bytes: number; changedMs: number }]> => {
          const { size, mtimeMs } = await stat(join(folder, name));
          return [name, { bytes: size, changedMs: mtimeMs }];
        }),
      ),
    );
  }
}

async function folderBytes(folder: string): Promise<number> {
  const sizes = await Promise.all((await readdir(folder)).map(async (name) => (await stat(join(folder, name))).size));
  return sizes.reduce((sum, size) => sum + size, 0);
}
