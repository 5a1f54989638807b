import type { Chain, ChainChange, ChainSummary, NewDraft, NewRevision, Revision } from '@tonos/contract';
import { type ChainFault, type ChainFile, type ChainStep, chainFaults, InvalidChainError } from '@tonos/core';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { checkThere, notFound } from '../http/problems.ts';
import { changeRevised, dropDraftOf } from '../revisions/change-revised.ts';
import { RunEntity } from '../runs/run-entity.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { ChainEntity, ChainRevisionEntity } from './chain-entity.ts';

/** Shared chains: immutable revisions, and one draft each for work in progress. */
export class ChainService {
  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  async list(): Promise<ChainSummary[]> {
    const chains = await this.database
      .of(ChainEntity)
      .find({ where: { trashedAt: IsNull() }, order: { createdAt: 'ASC', name: 'ASC' } });
    const latest = await this.database
      .of(ChainRevisionEntity)
      .createQueryBuilder('revision')
      .innerJoin(ChainEntity, 'chain', 'chain.id = revision.chainId AND chain.revision = revision.revision')
      .getMany();
    const latestOf = new Map(latest.map((revision) => [revision.chainId, revision]));
    const uses = await this.uses();
    return chains.map((chain) => summary(chain, latestOf.get(chain.id)!, uses(chain.id)));
  }

  async get(id: string): Promise<Chain> {
    const chain = await this.find(id);
    const revisions = await this.database
      .of(ChainRevisionEntity)
      .find({ where: { chainId: id }, order: { revision: 'DESC' } });
    return {
      ...summary(chain, revisions[0], (await this.uses())(id)),
      version: chain.version,
      steps: revisions[0].file.steps,
      // drafts of before people said who they are
      draft: chain.draft && { ...chain.draft, author: chain.draft.author ?? '' },
      revisions: revisions.map(({ revision, note, author, createdAt, file }) => ({
        revision,
        note,
        author,
        createdAt,
        stepCount: file.steps.length,
      })),
    };
  }

  async revision(id: string, number: number): Promise<Revision> {
    await this.find(id);
    const { file, revision, note, author, createdAt } = await this.findRevision(id, number);
    return { ...file, id, revision, note, author, createdAt };
  }

  async add(file: ChainFile): Promise<Chain> {
    const { newId, now } = this.surroundings;
    const id = newId();
    const steps = this.checked(file.steps);
    const createdAt = now();
    await this.database.transaction(async (manager) => {
      await manager.insert(ChainEntity, {
        id,
        name: file.name,
        revision: 1,
        version: 1,
        draft: null,
        createdAt,
        changedAt: createdAt,
        tags: file.tags,
        notes: file.notes,
        starred: false,
        archived: false,
        trashedAt: null,
      });
      await manager.save(ChainRevisionEntity, {
        chainId: id,
        revision: 1,
        file: { ...file, steps },
        note: '',
        author: '',
        createdAt,
      });
    });
    this.bus.publish({ type: 'chain', chainId: id });
    return this.get(id);
  }

  /** @param seen the version of the chain that the steps were made on */
  async keep(id: string, { steps, note, author, basedOn }: NewRevision, seen?: number): Promise<Chain> {
    const checked = this.checked(steps);
    const createdAt = this.surroundings.now();
    await this.database.transaction(async (manager) => {
      const chain = await this.find(id);
      const { file } = await this.findRevision(id, chain.revision);
      const revision = chain.revision + 1;
      const change = { revision, draft: null, changedAt: createdAt };
      await changeRevised(manager, ChainEntity, chain, { version: seen, basedOn }, change);
      await manager.save(ChainRevisionEntity, {
        chainId: id,
        revision,
        file: { ...file, name: chain.name, tags: chain.tags, notes: chain.notes, steps: checked },
        note,
        author,
        createdAt,
      });
    });
    this.bus.publish({ type: 'chain', chainId: id });
    return this.get(id);
  }

  /**
   * A draft may hold what a revision may not yet: it is only kept from getting lost.
   * @param seen the version of the chain that the change was made on
   */
  async saveDraft(id: string, { steps, basedOn, author }: NewDraft, seen?: number): Promise<Chain> {
    const changedAt = this.surroundings.now();
    const change = { draft: { steps, basedOn, changedAt, author }, changedAt };
    await this.database.transaction(async (manager) =>
      changeRevised(manager, ChainEntity, await this.find(id), { version: seen, basedOn }, change),
    );
    this.bus.publish({ type: 'chain', chainId: id });
    return this.get(id);
  }

  /** @returns the version of the chain without it */
  async dropDraft(id: string, seen?: number): Promise<number> {
    const version = await this.database.transaction(async (manager) => {
      const chain = await this.find(id);
      return dropDraftOf(manager, ChainEntity, chain, seen);
    });
    this.bus.publish({ type: 'chain', chainId: id });
    return version;
  }

  /** Name, tags, notes, star, archive. */
  async change(id: string, change: ChainChange): Promise<Chain> {
    await this.find(id);
    const given = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
    if (Object.keys(given).length)
      await this.database.transaction((manager) => manager.update(ChainEntity, { id }, given));
    this.bus.publish({ type: 'chain', chainId: id });
    return this.get(id);
  }

  /** Who uses which chain, asked once for all of them. */
  private async uses(): Promise<(chainId: string) => ChainSummary['usedBy']> {
    const titles = await this.database
      .of(TitleEntity)
      .find({ where: { trashedAt: IsNull() }, select: { id: true, name: true, chainId: true } });
    const runs = await this.database
      .of(RunEntity)
      .createQueryBuilder('run')
      .select('run.chainId', 'chainId')
      .addSelect('COUNT(*)', 'count')
      .addSelect('MAX(run.createdAt)', 'last')
      .innerJoin(TitleEntity, 'title', 'title.id = run.titleId AND title.trashedAt IS NULL')
      .where({ trashedAt: IsNull() })
      .groupBy('run.chainId')
      .getRawMany<{ chainId: string; count: number; last: string }>();
    const runsOf = new Map(runs.map((row) => [row.chainId, row]));
    return (chainId) => ({
      titles: titles.filter((title) => title.chainId === chainId).map(({ id, name }) => ({ id, name })),
      runs: runsOf.get(chainId)?.count ?? 0,
      lastRunAt: runsOf.get(chainId)?.last ?? null,
    });
  }

  /** Kinds of a newer version are kept as they are; settings out of range are refused. Every step gets an id of its own. */
  private checked(steps: readonly ChainStep[]): ChainStep[] {
    const faults = chainFaults(steps).filter((fault: ChainFault) => fault.code === 'bad-setting');
    if (faults.length)
      throw new InvalidChainError('bad-setting', faults.map(({ message }) => message).join(' '), { faults });
    const taken = new Set<string>();
    return steps.map((step) => {
      const id = step.id && !taken.has(step.id) ? step.id : this.surroundings.newId().slice(0, 8);
      taken.add(id);
      return { ...step, id };
    });
  }

  private async find(id: string): Promise<ChainEntity> {
    return checkThere('chain', id, await this.database.of(ChainEntity).findOneBy({ id }));
  }

  private async findRevision(chainId: string, revision: number): Promise<ChainRevisionEntity> {
    const found = await this.database.of(ChainRevisionEntity).findOneBy({ chainId, revision });
    if (!found) throw notFound(`revision ${revision} of the chain`, chainId);
    return found;
  }
}

const summary = (chain: ChainEntity, latest: ChainRevisionEntity, usedBy: ChainSummary['usedBy']): ChainSummary => ({
  id: chain.id,
  name: chain.name,
  tags: chain.tags,
  notes: chain.notes,
  revision: chain.revision,
  stepCount: latest.file.steps.length,
  hasDraft: chain.draft !== null,
  createdAt: chain.createdAt,
  changedAt: chain.changedAt,
  starred: chain.starred,
  archived: chain.archived,
  usedBy,
});
