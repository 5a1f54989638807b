import { fileURLToPath } from 'node:url';
import { Tinypool } from 'tinypool';

export interface Question {
  sql: string;
  parameters: readonly unknown[];
}

/** Beside this file: built where this is built, through a loader where this runs from its source. */
const BESIDE = new URL(
  import.meta.url.endsWith('.ts') ? './reader-from-source.mjs' : './reader-thread.js',
  import.meta.url,
);

/**
 * Questions that go over many rows, asked on a thread with a connection of its own: SQLite answers in one go, and whoever asks on the main
 * thread holds everybody up meanwhile. What was committed before a question is in its answer; a transaction that is still open is not.
 */
export class Reader {
  private pool: Tinypool | undefined;

  /** @param path of the database's file, which is there, and in WAL mode */
  constructor(private readonly path: string) {}

  ask<Row>(sql: string, parameters: readonly unknown[]): Promise<Row[]> {
    const question: Question = { sql, parameters };
    return this.thread().run(question);
  }

  /** Begins the log anew where all of it has been taken into the file. Nobody may write meanwhile. @throws where the disk does not take it */
  async beginLog(): Promise<void> {
    await this.thread().run(undefined, { name: 'beginLog' });
  }

  private thread(): Tinypool {
    this.pool ??= new Tinypool({
      filename: fileURLToPath(BESIDE),
      minThreads: 1,
      maxThreads: 1,
      workerData: this.path,
    });
    return this.pool;
  }

  async close(): Promise<void> {
    await this.pool?.destroy();
  }
}
