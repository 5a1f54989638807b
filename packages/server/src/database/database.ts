import 'reflect-metadata';
import { join } from 'node:path';
import {
  DataSource,
  type EntityManager,
  type EntityTarget,
  type ObjectLiteral,
  type Repository,
  type SelectQueryBuilder,
} from 'typeorm';
import { AccountEntity } from '../account/account-entity.ts';
import { ChainEntity, ChainRevisionEntity } from '../chains/chain-entity.ts';
import { ArrivalEntity } from '../inbox/arrival-entity.ts';
import { ClaimEntity } from '../jobs/claim-entity.ts';
import { MachineEntity } from '../machines/machine-entity.ts';
import { WorkerTokenEntity } from '../machines/worker-token-entity.ts';
import { ModuleEntity } from '../modules/module-entity.ts';
import { NoteEntity } from '../notes/note-entity.ts';
import { OrderEntity, OrderRevisionEntity } from '../orders/order-entity.ts';
import { OutingEntity } from '../outside/outing-entity.ts';
import { LinkEntity } from '../people/link-entity.ts';
import { PersonEntity } from '../people/person-entity.ts';
import { SessionEntity } from '../people/session-entity.ts';
import { TokenEntity } from '../people/token-entity.ts';
import { PresetEntity } from '../presets/preset-entity.ts';
import { OverviewEntity } from '../recordings/overview-entity.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { DraftEntity } from '../revisions/draft-entity.ts';
import { RunAttemptEntity } from '../runs/run-attempt-entity.ts';
import { RunEntity, RunItemEntity } from '../runs/run-entity.ts';
import { RecordingSetEntity } from '../sets/set-entity.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { IndexPlaceEntity } from '../thumb-index/index-place-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { checkVersion } from './check-version.ts';
import { LibsqlConnection } from './libsql-driver.ts';
import { FirstPath1764000000000 } from './migrations/1764000000000-first-path.ts';
import { LabelsAndTrash1764100000000 } from './migrations/1764100000000-labels-and-trash.ts';
import { FileNotes1764200000000 } from './migrations/1764200000000-file-notes.ts';
import { MarksByHand1764300000000 } from './migrations/1764300000000-marks-by-hand.ts';
import { Takes1764400000000 } from './migrations/1764400000000-takes.ts';
import { Recipes1764500000000 } from './migrations/1764500000000-recipes.ts';
import { Keeping1764600000000 } from './migrations/1764600000000-keeping.ts';
import { RunOrder1764700000000 } from './migrations/1764700000000-run-order.ts';
import { Inbox1764800000000 } from './migrations/1764800000000-inbox.ts';
import { ThumbIndex1764900000000 } from './migrations/1764900000000-thumb-index.ts';
import { Attempts1765000000000 } from './migrations/1765000000000-attempts.ts';
import { Cleared1765100000000 } from './migrations/1765100000000-cleared.ts';
import { Authors1765200000000 } from './migrations/1765200000000-authors.ts';
import { ClearedAttempts1765300000000 } from './migrations/1765300000000-cleared-attempts.ts';
import { Cover1765400000000 } from './migrations/1765400000000-cover.ts';
import { ChainVersion1765500000000 } from './migrations/1765500000000-chain-version.ts';
import { Trash1765600000000 } from './migrations/1765600000000-trash.ts';
import { NamesAndVersions1765700000000 } from './migrations/1765700000000-names-and-versions.ts';
import { Counts1765800000000 } from './migrations/1765800000000-counts.ts';
import { TimeMap1765900000000 } from './migrations/1765900000000-time-map.ts';
import { Cuts1766000000000 } from './migrations/1766000000000-cuts.ts';
import { Sets1766100000000 } from './migrations/1766100000000-sets.ts';
import { Orders1766200000000 } from './migrations/1766200000000-orders.ts';
import { Kinds1766300000000 } from './migrations/1766300000000-kinds.ts';
import { People1766400000000 } from './migrations/1766400000000-people.ts';
import { Notes1766500000000 } from './migrations/1766500000000-notes.ts';
import { Machines1766600000000 } from './migrations/1766600000000-machines.ts';
import { Sessions1766700000000 } from './migrations/1766700000000-sessions.ts';
import { Modules1766800000000 } from './migrations/1766800000000-modules.ts';
import { Outside1766900000000 } from './migrations/1766900000000-outside.ts';
import { ManyRecordings1767000000000 } from './migrations/1767000000000-many-recordings.ts';
import { Overviews1767100000000 } from './migrations/1767100000000-overviews.ts';
import { WaitingItems1767200000000 } from './migrations/1767200000000-waiting-items.ts';
import { Reader } from './reader.ts';
import type { Sign } from './row-cache.ts';
import { findRow } from './rows.ts';
import { BEGIN_LOG, LONG_LOG_BYTES, WriteAheadLog } from './write-ahead-log.ts';

const fileOf = (dataFolder: string) => join(dataFolder, 'tonos.sqlite');

/** The steps of the schema, in their order. */
const MIGRATIONS = [
  FirstPath1764000000000,
  LabelsAndTrash1764100000000,
  FileNotes1764200000000,
  MarksByHand1764300000000,
  Takes1764400000000,
  Recipes1764500000000,
  Keeping1764600000000,
  RunOrder1764700000000,
  Inbox1764800000000,
  ThumbIndex1764900000000,
  Attempts1765000000000,
  Cleared1765100000000,
  Authors1765200000000,
  ClearedAttempts1765300000000,
  Cover1765400000000,
  ChainVersion1765500000000,
  Trash1765600000000,
  NamesAndVersions1765700000000,
  Counts1765800000000,
  TimeMap1765900000000,
  Cuts1766000000000,
  Sets1766100000000,
  Orders1766200000000,
  Kinds1766300000000,
  People1766400000000,
  Notes1766500000000,
  Machines1766600000000,
  Sessions1766700000000,
  Modules1766800000000,
  Outside1766900000000,
  ManyRecordings1767000000000,
  Overviews1767100000000,
  WaitingItems1767200000000,
] as const;

/** The database of a data folder with its tables and how they came to be, not opened yet. */
export const databaseAt = (dataFolder: string): DataSource =>
  new DataSource({
    type: 'better-sqlite3',
    driver: LibsqlConnection,
    database: fileOf(dataFolder),
    enableWAL: true,
    // the log is brought to the disk, and taken into the file, beside the main thread (write-ahead-log.ts)
    prepareDatabase: (connection: LibsqlConnection) => {
      connection.pragma('synchronous = NORMAL');
      connection.pragma('wal_autocheckpoint = 0');
      connection.pragma(`journal_size_limit = ${LONG_LOG_BYTES}`);
    },
    // a plain class name would be enough, but every table is named on its entity
    entities: [
      TitleEntity,
      RecordingEntity,
      OverviewEntity,
      ChainEntity,
      ChainRevisionEntity,
      TargetEntity,
      RunEntity,
      RunItemEntity,
      RunAttemptEntity,
      PresetEntity,
      ModuleEntity,
      OutingEntity,
      ArrivalEntity,
      IndexPlaceEntity,
      RecordingSetEntity,
      OrderEntity,
      OrderRevisionEntity,
      DraftEntity,
      PersonEntity,
      SessionEntity,
      TokenEntity,
      LinkEntity,
      AccountEntity,
      NoteEntity,
      ClaimEntity,
      MachineEntity,
      WorkerTokenEntity,
    ],
    migrations: [...MIGRATIONS],
    migrationsRun: true,
    synchronize: false,
  });

type Reads<E extends ObjectLiteral> = Omit<
  Repository<E>,
  'save' | 'insert' | 'update' | 'upsert' | 'delete' | 'remove' | 'manager' | 'query'
>;

/** The one database of a data folder. */
export class Database {
  private lastTransaction: Promise<unknown> = Promise.resolve();
  private readonly reader: Reader;
  private readonly log: WriteAheadLog;

  private constructor(
    private readonly source: DataSource,
    path: string,
  ) {
    this.reader = new Reader(path);
    this.log = new WriteAheadLog(`${path}-wal`, async () => {
      await this.many('PRAGMA wal_checkpoint(PASSIVE)', []);
      await this.beginLog();
    });
  }

  /** @throws TonosError `newer-data` where a newer version has used it, before anything is changed */
  static async open(dataFolder: string): Promise<Database> {
    const source = databaseAt(dataFolder);
    checkVersion(
      fileOf(dataFolder),
      MIGRATIONS.map(({ name }) => name),
    );
    await source.initialize();
    // nobody waits for the main thread yet; a disk that is full can still be read, and the first change says it
    await source.query(BEGIN_LOG).catch(() => {});
    return new Database(source, fileOf(dataFolder));
  }

  /** As `findRow`, of what is committed or about to be. */
  find<E extends ObjectLiteral>(
    entity: EntityTarget<E>,
    where: Partial<E>,
    also: readonly (keyof E)[] = [],
  ): Promise<E | null> {
    return findRow(this.source.manager, entity, where, also);
  }

  /** For reading only: a change outside a transaction would fall into whichever is open, and go with it when that is undone. */
  of<E extends ObjectLiteral>(entity: EntityTarget<E>): Reads<E> {
    return this.source.getRepository(entity);
  }

  /**
   * The rows that a query finds, each with a sign that changes whenever one of these columns does. All of them come as one row: the driver
   * takes its time over each.
   * @param columns as SQL names them, such as item.status; what is large and changes with another one can be left out
   */
  async signsOf(query: SelectQueryBuilder<ObjectLiteral>, columns: readonly string[]): Promise<Sign[]> {
    const [sql, parameters] = query
      .select(`${query.alias}.id`, 'id')
      .addSelect(`json_array(${columns.join(', ')}) || ''`, 'sign')
      .getQueryAndParameters();
    const [{ signs }] = await this.many<{ signs: string }>(
      `SELECT json_group_array(json_array(id, sign)) AS signs FROM (${sql})`,
      parameters,
    );
    return (JSON.parse(signs) as [string, string][]).map(([id, sign]) => ({ id, sign }));
  }

  /** What a question in SQL finds, where no entity says it and few rows are looked at. */
  rows<Row>(sql: string, parameters: readonly unknown[]): Promise<Row[]> {
    return this.source.query(sql, [...parameters]);
  }

  /** As `rows`, where many are looked at: asked beside the main thread, of what is committed. */
  many<Row>(sql: string, parameters: readonly unknown[]): Promise<Row[]> {
    return this.reader.ask(sql, parameters);
  }

  /** The rows of a query as they are, asked beside the main thread. */
  manyOf<Row>(query: SelectQueryBuilder<ObjectLiteral>): Promise<Row[]> {
    return this.many(...query.getQueryAndParameters());
  }

  /** The columns of an entity that are read with it, without those that are large, as a query under that alias names them. */
  lightOf<E extends ObjectLiteral>(
    alias: string,
    entity: EntityTarget<E>,
    large: readonly (keyof E & string)[],
  ): string[] {
    const columns = this.source.getMetadata(entity).columns.filter(({ isSelect }) => isSelect);
    const light = columns.map(({ propertyName }) => propertyName).filter((name) => !large.includes(name));
    return light.map((name) => `${alias}.${name}`);
  }

  /**
   * Changes, all or nothing, and on the disk when this ends. One at a time: SQLite has one connection here, and two transactions that
   * interleave on it would become one inside the other; the next one does not wait for the disk.
   */
  async transaction<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    const result = await this.inTurn(() => this.source.transaction(work));
    await this.log.synced();
    return result;
  }

  /** Where the next change would begin the log anew, it would hold the main thread until the disk has its head. */
  private beginLog(): Promise<void> {
    return this.inTurn(() => this.reader.beginLog());
  }

  private inTurn<T>(write: () => Promise<T>): Promise<T> {
    const mine = this.lastTransaction.then(write);
    this.lastTransaction = mine.catch(() => {});
    return mine;
  }

  /** What SQLite's own check of every page and index finds; empty where the database is whole. */
  async faults(): Promise<string[]> {
    const said: { integrity_check: string }[] = await this.source.query('PRAGMA integrity_check');
    return said.map((row) => row.integrity_check).filter((line) => line !== 'ok');
  }

  async close(): Promise<void> {
    await this.lastTransaction;
    await this.log.close();
    await this.reader.close();
    await this.source.destroy();
  }
}
