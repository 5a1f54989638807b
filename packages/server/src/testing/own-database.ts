import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Database } from '../database/database.ts';

/** A fresh database for each test of a file, whose rows are written as they lie there. */
export class OwnDatabase {
  private folder!: string;
  database!: Database;

  /** To be called once, where hooks are told. */
  static forEach(): OwnDatabase {
    const own = new OwnDatabase();
    beforeEach(async () => {
      own.folder = await mkdtemp(join(tmpdir(), 'tonos-rows-'));
      own.database = await Database.open(own.folder);
    });
    afterEach(async () => {
      await own.database.close();
      await rm(own.folder, { recursive: true });
    });
    return own;
  }

  change(sql: string, ...parameters: unknown[]): Promise<unknown> {
    return this.database.transaction((manager) => manager.query(sql, parameters));
  }
}
