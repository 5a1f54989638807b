import Libsql from 'libsql';

/**
 * libsql as the driver that TypeORM expects for better-sqlite3. Two things differ: a lone object is bound as named
 * parameters, so a lone null or Buffer must go inside an array; and blobs come back as ArrayBuffer.
 */
type Row = Record<string, unknown>;

const bound = (parameters: unknown[]): unknown[] =>
  parameters.length === 1 && typeof parameters[0] === 'object' ? [parameters] : parameters;

function withBuffers(row: Row): Row {
  for (const key in row) if (row[key] instanceof ArrayBuffer) row[key] = Buffer.from(row[key]);
  return row;
}

class Statement {
  constructor(private readonly inner: Libsql.Statement) {}

  get reader(): boolean {
    return this.inner.reader;
  }

  run(...parameters: unknown[]) {
    return this.inner.run(...(bound(parameters) as never[]));
  }

  all(...parameters: unknown[]): Row[] {
    return (this.inner.all(...(bound(parameters) as never[])) as Row[]).map(withBuffers);
  }
}

export class LibsqlConnection {
  private readonly inner: Libsql.Database;

  constructor(path: string, options: { timeout?: number }) {
    this.inner = new Libsql(path, { timeout: options.timeout });
  }

  prepare(sql: string): Statement {
    return new Statement(this.inner.prepare(sql));
  }

  pragma(source: string): unknown {
    return this.inner.pragma(source);
  }

  exec(sql: string): void {
    this.inner.exec(sql);
  }

  close(): void {
    this.inner.close();
  }
}
