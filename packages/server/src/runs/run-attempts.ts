import type { Attempt } from '@tonos/contract';
import { type EntityManager, In } from 'typeorm';
import type { Database } from '../database/database.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import type { Surroundings } from '../surroundings.ts';
import { type Outcome, RunAttemptEntity } from './run-attempt-entity.ts';
import { RunItemEntity } from './run-entity.ts';

const OUTCOME = [
  'status',
  'after',
  'limits',
  'findings',
  'timeMap',
  'parts',
  'chapters',
  'overview',
  'recipe',
  'accepted',
  'outputSha256',
  'outputBytes',
  'seconds',
  'machine',
] as const satisfies (keyof Outcome)[];

const outcomeOf = (item: RunItemEntity): Outcome =>
  Object.fromEntries(OUTCOME.map((key) => [key, item[key] ?? null])) as unknown as Outcome;

/** Earlier outcomes of items: kept when an item is rendered again, and put back when one of them was better. */
export class RunAttempts {
  constructor(
    private readonly database: Database,
    private readonly surroundings: Surroundings,
  ) {}

  /** Earlier attempts at an item, the newest first; none that came out as the item stands now. */
  async list(runId: string, itemId: string): Promise<Attempt[]> {
    const item = await this.database.of(RunItemEntity).findOneBy({ id: itemId, runId });
    if (!item) throw notFound('item', itemId);
    const attempts = await this.database
      .of(RunAttemptEntity)
      .find({ where: { itemId }, order: { keptAt: 'DESC', id: 'DESC' } });
    const other = attempts.filter(({ outputSha256 }) => outputSha256 !== item.outputSha256);
    return other.map(({ id, keptAt, outcome: { status, after, limits, seconds, accepted } }) => ({
      id,
      keptAt,
      status,
      after,
      limits: limits ?? [],
      seconds,
      accepted,
    }));
  }

  /** Keeps how items came out, within a transaction that opens them again. */
  async keep(manager: EntityManager, itemIds: readonly string[]): Promise<void> {
    for (const item of await fullItems(manager, itemIds)) await this.keepOne(manager, item);
  }

  /** Puts an earlier attempt in the place of how the item stands now, which is kept in its turn. */
  async use(runId: string, itemId: string, attemptId: string): Promise<void> {
    await this.database.transaction(async (manager) => {
      const [item] = await fullItems(manager, [itemId]);
      if (!item || item.runId !== runId) throw notFound('item', itemId);
      const attempt = await manager.findOneBy(RunAttemptEntity, { id: attemptId, itemId });
      if (!attempt) throw notFound('attempt', attemptId);
      if (item.status === 'queued' || item.status === 'working')
        throw new HttpProblem(409, 'busy', 'The item is being rendered again: choose when it has come out.');
      await this.keepOne(manager, item);
      await manager.delete(RunAttemptEntity, { id: attemptId });
      const { outcome, cleared } = attempt;
      await manager.save(RunItemEntity, { ...item, ...outcome, cleared, error: null });
    });
  }

  private async keepOne(manager: EntityManager, item: RunItemEntity): Promise<void> {
    if (!item.outputSha256) return;
    await manager.save(RunAttemptEntity, {
      id: this.surroundings.newId(),
      itemId: item.id,
      keptAt: this.surroundings.now(),
      outputSha256: item.outputSha256,
      cleared: item.cleared,
      outcome: outcomeOf(item),
    });
  }
}

/** With what is left out elsewhere because it is large. */
const fullItems = (manager: EntityManager, ids: readonly string[]): Promise<RunItemEntity[]> =>
  manager
    .createQueryBuilder(RunItemEntity, 'item')
    .addSelect(['item.overview', 'item.recipe', 'item.chapters'])
    .where({ id: In([...ids]) })
    .getMany();
