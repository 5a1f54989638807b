import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Integrity, Storage } from '@tonos/contract';
import { In, IsNull, Not } from 'typeorm';
import type { Database } from '../database/database.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { freeBytes } from '../runs/disk-need.ts';
import { RunAttemptEntity } from '../runs/run-attempt-entity.ts';
import { RunEntity, RunItemEntity } from '../runs/run-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { BlobStore } from './blob-store.ts';

/** A file this young may belong to something that is just being recorded. */
const YOUNG_MS = 3_600_000;

interface Use {
  sha256: string;
  titleId: string;
  name: string;
  kind: 'source' | 'delivery';
  /** Whether a recipe makes it again. */
  clearable: boolean;
}

type Owner = Pick<RunItemEntity, 'id' | 'runId' | 'outputName'>;

const DONE: RunItemEntity['status'][] = ['within', 'off-target'];

/** The account of the data folder: what takes how much, what nobody needs, and whether every file is what it was. */
export class StorageService {
  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
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
    for (const sha256 of this.unusedOf(await this.uses(), await this.sizes())) {
      await this.discard(sha256);
    }
    return this.account();
  }

  /** Reads every file that is needed and compares it with its name. */
  async check(wanted: AbortSignal): Promise<Integrity> {
    const usersOf = new Map<string, string[]>();
    for (const { sha256, name } of await this.uses()) usersOf.set(sha256, [...(usersOf.get(sha256) ?? []), name]);
    const faults: Integrity['faults'] = [];
    for (const [sha256, usedBy] of usersOf) {
      if (wanted.aborted) break;
      const found = await hashOf(this.store.pathOf(sha256));
      if (found === sha256) continue;
      faults.push({ sha256, fault: found === null ? 'missing' : 'altered', usedBy });
    }
    return { files: usersOf.size, faults };
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
    const gone = await this.database.transaction(async (manager) => {
      const runs = await manager.find(RunEntity, { where: { titleId }, select: { id: true } });
      const items = await manager.find(RunItemEntity, {
        where: { runId: In(runs.map(({ id }) => id)), cleared: false, recipe: Not(IsNull()), status: In(DONE) },
        select: { id: true, outputSha256: true },
      });
      const ids = items.map(({ id }) => id);
      const attempts = await manager.findBy(RunAttemptEntity, { itemId: In(ids) });
      await manager.update(RunItemEntity, { id: In(ids) }, { cleared: true });
      for (const attempt of attempts)
        await manager.save(RunAttemptEntity, { ...attempt, outcome: { ...attempt.outcome, cleared: true } });
      return new Set([...items, ...attempts].map(({ outputSha256 }) => outputSha256!));
    });
    // another title may have the very same file
    const needed = new Set((await this.uses()).map(({ sha256 }) => sha256));
    for (const sha256 of gone) if (!needed.has(sha256)) await this.discard(sha256);
    return this.account();
  }

  private async discard(sha256: string): Promise<void> {
    await this.store.discard(this.store.pathOf(sha256));
    for (const ending of ['.survey', '.wav'] as const) await this.store.discard(this.store.derivedPath(sha256, ending));
  }

  private async uses(): Promise<Use[]> {
    const recordings = await this.database
      .of(RecordingEntity)
      .find({ select: { id: true, sha256: true, titleId: true, name: true } });
    const items = await this.database.of(RunItemEntity).find({
      where: { outputSha256: Not(IsNull()), cleared: false },
      select: { id: true, runId: true, outputSha256: true, outputName: true },
    });
    const clearable = new Set(
      (
        await this.database.of(RunItemEntity).find({
          where: { recipe: Not(IsNull()), cleared: false, status: In(DONE) },
          select: { id: true },
        })
      ).map(({ id }) => id),
    );
    // what was rendered before stays too, until it is let go
    const attempts = (await this.database.of(RunAttemptEntity).find()).filter(({ outcome }) => !outcome.cleared);
    const owners = await this.database.of(RunItemEntity).find({
      where: { id: In(attempts.map(({ itemId }) => itemId)) },
      select: { id: true, runId: true, outputName: true },
    });
    const ownerOf = new Map(owners.map((item) => [item.id, item]));
    const runs = await this.database.of(RunEntity).find({ select: { id: true, titleId: true } });
    const titleOf = new Map(runs.map(({ id, titleId }) => [id, titleId]));
    const delivery = (sha256: string, { id, runId, outputName }: Owner): Use => ({
      sha256,
      titleId: titleOf.get(runId) ?? '',
      name: outputName ?? '',
      kind: 'delivery',
      clearable: clearable.has(id),
    });
    return [
      ...recordings.map(({ sha256, titleId, name }) => ({
        sha256,
        titleId,
        name,
        kind: 'source' as const,
        clearable: false,
      })),
      ...items.map((item) => delivery(item.outputSha256!, item)),
      ...attempts.flatMap(({ itemId, outputSha256 }) => {
        const owner = ownerOf.get(itemId);
        return owner ? [delivery(outputSha256, owner)] : [];
      }),
    ];
  }

  private async sizes(): Promise<Map<string, { bytes: number; changedMs: number }>> {
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

/** null where there is no such file. */
async function hashOf(path: string): Promise<string | null> {
  const hash = createHash('sha256');
  try {
    for await (const chunk of createReadStream(path)) hash.update(chunk as Buffer);
  } catch {
    return null;
  }
  return hash.digest('hex');
}
