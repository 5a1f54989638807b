import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import type { ProcessorModule } from '@tonos/contract';
import { CUSTOM, forgetModule, knowModule, MODULE_LIMITS, modulesIn } from '@tonos/core';
import { type EntityManager, IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller } from '../http/caller.ts';
import { checkThere, HttpProblem } from '../http/problems.ts';
import { PresetEntity } from '../presets/preset-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { ModuleEntity } from './module-entity.ts';

interface ModuleNeeds {
  database: Database;
  store: BlobStore;
  bus: EventBus;
  surroundings: Surroundings;
  /** A thread that a module may block, and take with it. */
  queue: OneAtATime;
}

/** The library of modules. What stands in it is known to this process by its manifest; only threads ever run one. */
export class ModuleService {
  constructor(private readonly needs: ModuleNeeds) {
    needs.bus.watch((event) => {
      if (event.type === 'module') void this.follow(event.moduleId);
    });
  }

  /** Makes what the library holds known, at the start. */
  async load(): Promise<void> {
    for (const { sha256, manifest } of await this.standing()) knowModule({ sha256, manifest });
  }

  async list(): Promise<ProcessorModule[]> {
    const uses = await this.needs.database.transaction((manager) => usesOfModules(manager));
    return (await this.standing()).map((row) => describe(row, uses));
  }

  /**
   * Takes a module in once it has kept every promise of the step contract on a thread of its own. One that is here already is answered as
   * it is, and comes back from the trash.
   * @throws HttpProblem 413, 422 that names what it is not
   */
  async add(bytes: Uint8Array, fileName: string): Promise<ProcessorModule> {
    const { database, store, surroundings } = this.needs;
    if (bytes.length > MODULE_LIMITS.fileBytes)
      throw new HttpProblem(413, 'module-too-large', `${fileName} is larger than 8 MB.`);
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const end = await this.checked(bytes, fileName, sha256);
    const broken = end.checks.filter(({ fails }) => fails);
    if (broken.length) {
      const what = broken.map(({ promise, fails }) => `It ${promise}: no. ${fails}`).join(' ');
      throw new HttpProblem(422, 'breaks-contract', `${fileName} was not taken in. ${what}`, { checks: end.checks });
    }
    await store.receive(Readable.from([bytes]));
    const { manifest } = end;
    const name = `${manifest.name} ${manifest.version}`;
    await database.transaction(async (manager) => {
      const before = await manager.findOneBy(ModuleEntity, { sha256 });
      if (before) await manager.update(ModuleEntity, { sha256 }, { trashedAt: null });
      else
        await manager.insert(ModuleEntity, {
          id: surroundings.newId(),
          sha256,
          name,
          manifest,
          bytes: bytes.length,
          fileName,
          author: caller().name,
          createdAt: surroundings.now(),
          trashedAt: null,
        });
    });
    store.recorded([sha256]);
    knowModule({ sha256, manifest });
    return this.told(sha256);
  }

  /** A module's own file, by its content. @throws HttpProblem 404 */
  async file(sha256: string): Promise<{ path: string; mediaType: string; name: string }> {
    const found = await this.needs.database.of(ModuleEntity).findOneBy({ sha256 });
    const { fileName: name } = checkThere('module', sha256, found);
    return { path: this.needs.store.pathOf(sha256), mediaType: 'application/wasm', name };
  }

  /** Known where it stands in the library, and forgotten where it lies in the trash. */
  private async follow(id: string): Promise<void> {
    const row = await this.needs.database.of(ModuleEntity).findOneBy({ id });
    if (row && row.trashedAt === null) knowModule(row);
    else if (row) forgetModule(row.sha256);
  }

  /** Looks at a module on a thread of its own, beside the store: what is refused was never in it. */
  private async checked(bytes: Uint8Array, fileName: string, sha256: string) {
    const { store, queue } = this.needs;
    const path = store.temporaryPath();
    try {
      await writeFile(path, bytes);
      const wanted = new AbortController().signal;
      const end = await queue.run({ type: 'check-module', name: fileName, path, sha256 }, { wanted });
      if (end.type === 'module-checked') return end;
      if (end.type === 'failed') throw new HttpProblem(422, end.error.code, end.error.message);
      throw new HttpProblem(503, 'not-checked', `${fileName} could not be checked. Try it again.`);
    } finally {
      await store.discard(path);
    }
  }

  private async told(sha256: string): Promise<ProcessorModule> {
    const { database, bus } = this.needs;
    const row = await database.of(ModuleEntity).findOneByOrFail({ sha256 });
    bus.publish({ type: 'module', moduleId: row.id });
    return describe(row, await database.transaction((manager) => usesOfModules(manager)));
  }

  private standing(): Promise<ModuleEntity[]> {
    return this.needs.database
      .of(ModuleEntity)
      .find({ where: { trashedAt: IsNull() }, order: { name: 'ASC', createdAt: 'ASC' } });
  }
}

export type ModuleUses = ReadonlyMap<string, ProcessorModule['usedBy']>;
const NOT_USED: ProcessorModule['usedBy'] = { chains: [], orders: [], presets: 0 };

interface Holder {
  id: string;
  name: string;
  titleId: string;
  holds: string;
}

const HAS_MODULES = `LIKE '%"kind":"${CUSTOM}"%'`;
/** As they are now, and as somebody works on them. */
const holdersOf = (thing: 'chain' | 'order', table: string, revisions: string, title: string) => `
  SELECT thing.id, thing.name, ${title} AS titleId, revision.file AS holds FROM "${table}" thing
    JOIN "${revisions}" revision ON revision."${thing}Id" = thing.id AND revision.revision = thing.revision
    WHERE thing."trashedAt" IS NULL AND revision.file ${HAS_MODULES}
  UNION ALL
  SELECT thing.id, thing.name, ${title}, draft.content FROM "${table}" thing
    JOIN draft ON draft.thing = '${thing}' AND draft."thingId" = thing.id
    WHERE thing."trashedAt" IS NULL AND draft.content ${HAS_MODULES}`;
const CHAINS = holdersOf('chain', 'chain', 'chain_revision', "''");
const ORDERS = `SELECT * FROM (${holdersOf('order', 'running_order', 'order_revision', 'thing."titleId"')})
  WHERE titleId IN (SELECT id FROM title WHERE "trashedAt" IS NULL)`;

/** Who has which module: chains and running orders that stand, and presets. */
export async function usesOfModules(manager: EntityManager): Promise<ModuleUses> {
  const uses = new Map<string, ProcessorModule['usedBy']>();
  const note = (holder: unknown, add: (use: ProcessorModule['usedBy']) => void) => {
    for (const { sha256 } of modulesIn(holder)) {
      if (!uses.has(sha256)) uses.set(sha256, { chains: [], orders: [], presets: 0 });
      add(uses.get(sha256)!);
    }
  };
  const once = <Thing extends { id: string }>(list: Thing[], one: Thing) =>
    list.some(({ id }) => id === one.id) || list.push(one);
  for (const { id, name, holds } of (await manager.query(CHAINS)) as Holder[])
    note(JSON.parse(holds), ({ chains }) => once(chains, { id, name }));
  for (const { id, name, titleId, holds } of (await manager.query(ORDERS)) as Holder[])
    note(JSON.parse(holds), ({ orders }) => once(orders, { id, name, titleId }));
  for (const preset of await manager.findBy(PresetEntity, { trashedAt: IsNull(), kind: CUSTOM }))
    note(preset, (use) => {
      use.presets++;
    });
  return uses;
}

/** Who uses a module, in words; undefined where nobody does. */
export function usersOfModule({ chains, orders, presets }: ProcessorModule['usedBy']): string | undefined {
  const seen = orders.filter(({ titleId }) => caller().sees(titleId));
  const users = [
    ...chains.map(({ name }) => `the chain \u201c${name}\u201d`),
    ...seen.map(({ name }) => `the running order \u201c${name}\u201d`),
    ...(presets ? [presets === 1 ? 'a preset' : `${presets} presets`] : []),
    ...(seen.length < orders.length ? ['others'] : []),
  ];
  return users.length ? users.join(', ') : undefined;
}

/** What somebody may not know of is not named. */
const describe = (row: ModuleEntity, uses: ModuleUses): ProcessorModule => {
  const usedBy = uses.get(row.sha256) ?? NOT_USED;
  const { id, sha256, manifest, bytes, fileName, author, createdAt } = row;
  const orders = usedBy.orders.filter(({ titleId }) => caller().sees(titleId));
  return { id, sha256, manifest, bytes, fileName, author, createdAt, usedBy: { ...usedBy, orders } };
};
