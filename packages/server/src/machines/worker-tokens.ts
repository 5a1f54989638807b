import type { WorkerToken, WorkerTokenMade } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import { notFound } from '../http/problems.ts';
import { newSecret, secretHash } from '../people/secrets.ts';
import type { Surroundings } from '../surroundings.ts';
import { WorkerTokenEntity } from './worker-token-entity.ts';

const SECRET = /^tnw_[\w-]{43}$/;

/**
 * What lets machines work along. Looked for in the database at every call: the command makes and ends tokens there, beside the running server.
 */
export class WorkerTokens {
  constructor(
    private readonly database: Database,
    private readonly surroundings: Surroundings,
  ) {}

  async find(secret: string): Promise<WorkerTokenEntity | null> {
    if (!SECRET.test(secret)) return null;
    const [found] = await this.database.rows<WorkerTokenEntity>('SELECT * FROM worker_token WHERE secretHash = ?', [
      secretHash(secret),
    ]);
    return found ?? null;
  }

  async list(): Promise<WorkerToken[]> {
    const tokens = await this.database.of(WorkerTokenEntity).find({ order: { createdAt: 'ASC' } });
    return tokens.map(({ id, name, createdAt }) => ({ id, name, createdAt }));
  }

  async make(name: string): Promise<WorkerTokenMade> {
    const { newId, now } = this.surroundings;
    const [id, token] = [newId(), `tnw_${newSecret()}`];
    const row = { id, name, secretHash: secretHash(token), createdAt: now() };
    await this.database.transaction((manager) => manager.insert(WorkerTokenEntity, row));
    return { id, token };
  }

  /** Who speaks by it is not heard any more. @throws HttpProblem 404 */
  async end(id: string): Promise<void> {
    const { affected } = await this.database.transaction((manager) => manager.delete(WorkerTokenEntity, { id }));
    if (!affected) throw notFound('token', id);
  }
}
