import type {
  Chain,
  ChainChange,
  ChainDraft,
  ChainSummary,
  NewApproval,
  NewDraft,
  NewRevision,
  Revision,
} from '@tonos/contract';
import { type ChainFault, type ChainFile, type ChainStep, chainFaults, InvalidChainError } from '@tonos/core';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller, checkRole } from '../http/caller.ts';
import { checkThere, notFound } from '../http/problems.ts';
import { approvedNow, checkMayFollow } from '../revisions/approvals.ts';
import { changeRevised, dropDraftOf, type Revised, saveDraftOf, versionFor } from '../revisions/change-revised.ts';
import { draftsOf } from '../revisions/drafts.ts';
import { RunEntity } from '../runs/run-entity.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { ChainEntity, ChainRevisionEntity } from './chain-entity.ts';

/** Shared chains: immutable revisions, and for each person a draft of work in progress. */
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
    const drafts = await draftsOf<ChainDraft>(this.database, 'chain');
    return chains.map((chain) => summary(chain, latestOf.get(chain.id)!, uses(chain.id), drafts.own(chain.id)));
  }

  async get(id: string): Promise<Chain> {
    const chain = await this.find(id);
    const revisions = await this.database
      .of(ChainRevisionEntity)
      .find({ where: { chainId: id }, order: { revision: 'DESC' } });
    const drafts = await draftsOf<ChainDraft>(this.database, 'chain', id);
    const own = drafts.own(id);
    return {
      ...summary(chain, revisions[0], (await this.uses())(id), own),
      version: versionFor(chain, own),
      steps: revisions[0].file.steps,
      // drafts of before people said who they are
      draft: own?.content ? { ...own.content, author: own.content.author ?? '' } : null,
      drafts: drafts.others(id),
      revisions: revisions.map(({ revision, note, author, createdAt, file, approval }) => ({
        revision,
        note,
        author,
        createdAt,
        stepCount: file.steps.length,
        approval,
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
        author: caller().name,
        createdAt,
        approval: null,
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
      const { file, approval } = await this.findRevision(id, chain.revision);
      checkMayFollow(approval, `the chain “${chain.name}”`);
      const revision = chain.revision + 1;
      await changeRevised(manager, revised(chain), { version: seen, basedOn }, { revision, changedAt: createdAt });
      await manager.save(ChainRevisionEntity, {
        chainId: id,
        revision,
        file: { ...file, name: chain.name, tags: chain.tags, notes: chain.notes, steps: checked },
        note,
        author: caller().name || author,
        createdAt,
        approval: null,
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
    const { name, personId } = caller();
    const draft = { steps, basedOn, changedAt, author: name || author };
    const begins = await this.database.transaction(async (manager) =>
      saveDraftOf(manager, revised(await this.find(id)), { version: seen, basedOn }, draft),
    );
    // others learn that there is a draft, and not of every change of it
    this.bus.publish({ type: 'chain', chainId: id }, begins ? undefined : personId);
    return this.get(id);
  }

  /** @returns the version of the chain without it */
  async dropDraft(id: string, seen?: number): Promise<number> {
    const version = await this.database.transaction(async (manager) => {
      return dropDraftOf(manager, revised(await this.find(id)), seen);
    });
    this.bus.publish({ type: 'chain', chainId: id });
    return version;
  }

  /** A lead stands for a revision, or no longer. */
  async approve(id: string, revision: number, approval: NewApproval | null): Promise<Chain> {
    const now = this.surroundings.now();
    await this.database.transaction(async (manager) => {
      await this.find(id);
      await this.findRevision(id, revision);
      const given = { approval: approval && approvedNow(approval, now) };
      await manager.update(ChainRevisionEntity, { chainId: id, revision }, given);
    });
    this.bus.publish({ type: 'chain', chainId: id });
    return this.get(id);
  }

  /** Name, tags, notes, star, archive. */
  async change(id: string, change: ChainChange): Promise<Chain> {
    await this.find(id);
    if (change.archived !== undefined) checkRole('lead', 'archive chains');
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
    const query = this.database
      .of(RunEntity)
      .createQueryBuilder('run')
      .select('run.chainId', 'chainId')
      .addSelect('run.titleId', 'titleId')
      .addSelect('COUNT(*)', 'count')
      .addSelect('MAX(run.createdAt)', 'last')
      .innerJoin(TitleEntity, 'title', 'title.id = run.titleId AND title.trashedAt IS NULL')
      .where({ trashedAt: IsNull() })
      .groupBy('run.chainId')
      .addGroupBy('run.titleId');
    const runs = await this.database.manyOf<{ chainId: string; titleId: string; count: number; last: string }>(query);
    // runs of a title that somebody may not know of are not counted for them either
    const { sees } = caller();
    const runsOf = new Map<string, { count: number; last: string }>();
    for (const { chainId, count, last } of runs.filter((row) => sees(row.titleId))) {
      const known = runsOf.get(chainId);
      runsOf.set(chainId, {
        count: count + (known?.count ?? 0),
        last: known && known.last > last ? known.last : last,
      });
    }
    return (chainId) => ({
      titles: titles
        .filter((title) => title.chainId === chainId && caller().sees(title.id))
        .map(({ id, name }) => ({ id, name })),
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

const revised = (row: ChainEntity): Revised<ChainEntity> => ({ thing: 'chain', entity: ChainEntity, row });

const summary = (
  chain: ChainEntity,
  latest: ChainRevisionEntity,
  usedBy: ChainSummary['usedBy'],
  draft: { content: ChainDraft | null; changedAt: string } | null,
): ChainSummary => ({
  id: chain.id,
  name: chain.name,
  tags: chain.tags,
  notes: chain.notes,
  revision: chain.revision,
  stepCount: latest.file.steps.length,
  hasDraft: !!draft?.content,
  createdAt: chain.createdAt,
  changedAt: draft?.content && draft.changedAt > chain.changedAt ? draft.changedAt : chain.changedAt,
  starred: chain.starred,
  archived: chain.archived,
  usedBy,
});
