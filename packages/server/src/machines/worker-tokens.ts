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
    const { secret, ...row } = newWorkerToken(name, this.surroundings);
    await this.database.transaction((manager) => manager.insert(WorkerTokenEntity, row));
    return { id: row.id, token: secret };
  }

  /** Who speaks by it is not heard any more. @throws HttpProblem 404 */
  async end(id: string): Promise<void> {
    const { affected } = await this.database.transaction((manager) => manager.delete(WorkerTokenEntity, { id }));
    if (!affected) throw notFound('token', id);
  }
}

/** A token as it is stored, and the secret that is told once. */
export function newWorkerToken(
  name: string,
  { newId, now }: Pick<Surroundings, 'newId' | 'now'>,
): WorkerTokenEntity & { secret: string } {
  const secret = `tnw_${newSecret()}`;
  return { id: newId(), name, secretHash: secretHash(secret), createdAt: now(), secret };
}
