import { type AccountEntry, type AccountQuery, ROUTES, type Route } from '@tonos/contract';
import { LRUCache } from 'lru-cache';
import type { Database } from '../database/database.ts';
import type { Caller } from '../http/caller.ts';
import type { Given } from '../http/serve.ts';
import type { Surroundings } from '../surroundings.ts';
import { AccountEntity } from './account-entity.ts';
import { Names } from './names.ts';
import { type RouteName, type Said, SENTENCES } from './sentences.ts';

/** Who nudges a mark ten times set marks once. */
const ONCE_WITHIN_MS = 10 * 60_000;

const NAMES = new Map(
  (Object.entries(ROUTES) as [RouteName, Route][]).map(([name, { method, path }]) => [`${method} ${path}`, name]),
);

/** Who did what, in sentences: written once, never edited. */
export class AccountService {
  private readonly names: Names;
  private readonly lately = new LRUCache<string, true>({ max: 1000, ttl: ONCE_WITHIN_MS });

  constructor(
    private readonly database: Database,
    private readonly surroundings: Surroundings,
  ) {
    this.names = new Names(database);
  }

  /** What a call did, when it was answered. */
  async tell({ method, path }: Route, caller: Caller | null, given: Given, reply: unknown): Promise<void> {
    const say = SENTENCES[NAMES.get(`${method} ${path}`)!];
    if (!say || !caller) return;
    const said = await say({ params: given.params, body: given.body ?? {}, reply, names: this.names });
    const key = `${caller.personId} ${said.titleId} ${said.chainId} ${said.sentence}`;
    if (!said.sentence || (said.kind !== 'people' && this.lately.has(key))) return;
    this.lately.set(key, true);
    await this.write(said, caller.personId, caller.name);
  }

  /** @param personId null for somebody who is not known */
  async write(said: Said, personId: string | null, personName: string): Promise<void> {
    const { newId, now } = this.surroundings;
    const { kind, sentence, titleId = null, chainId = null } = said;
    const entry = {
      id: newId(),
      at: now(),
      personId,
      personName,
      kind,
      titleId,
      chainId,
      sentence: sentence.slice(0, 3000),
    };
    await this.database.transaction((manager) => manager.insert(AccountEntity, entry));
  }

  /** The newest first, without what the caller may not know of. Only owners see the security account. */
  async list({ titleId, chainId, personId, kind, since, most }: AccountQuery, caller: Caller): Promise<AccountEntry[]> {
    const query = this.database
      .of(AccountEntity)
      .createQueryBuilder('entry')
      .orderBy('entry.at', 'DESC')
      .addOrderBy('entry.rowid', 'DESC');
    const where = { titleId, chainId, personId, kind };
    for (const [column, value] of Object.entries(where))
      if (value !== undefined) query.andWhere(`entry.${column} = :${column}`, { [column]: value });
    if (since !== undefined) query.andWhere('entry.at >= :since', { since: new Date(since).toISOString() });
    if (caller.role !== 'owner') query.andWhere(`entry.kind != 'people'`);
    const all = await query.limit(most).getMany();
    return all
      .filter((entry) => entry.titleId === null || caller.sees(entry.titleId))
      .map(({ personId: id, personName: name, ...entry }) => ({ ...entry, person: { id, name } }));
  }
}
