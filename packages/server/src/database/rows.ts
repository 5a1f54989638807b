import type { EntityManager, EntityMetadata, EntityTarget, ObjectLiteral } from 'typeorm';

/**
 * Rows by their columns, for what is asked with every piece of work. The mapper puts a query's text together anew each time, which takes several
 * times as long as SQLite does to answer it, and writes numbers into it, so that no statement is met twice. What a column holds is still the
 * entity's to say.
 */

/** Columns that have to be equal. */
type Equal<E> = Partial<E>;

type Column = EntityMetadata['columns'][number];

/** What has to be equal. @throws Error for what is not said: a condition that falls away would mean other rows */
function meant<E extends ObjectLiteral>(manager: EntityManager, entity: EntityTarget<E>, where: Equal<E>) {
  const equal = said(manager, entity, where);
  if (!equal.length || equal.length < Object.keys(where).length)
    throw new Error(`Which rows are meant is not said: ${Object.keys(where).join(', ')}`);
  return equal;
}

/** The columns that are named by a row, each with what SQLite gets; what is undefined is left alone. */
function said<E extends ObjectLiteral>(manager: EntityManager, entity: EntityTarget<E>, row: Equal<E>) {
  const { driver } = manager.connection;
  const table = manager.connection.getMetadata(entity);
  return Object.keys(row)
    .filter((name) => row[name] !== undefined)
    .map((name) => {
      const column = table.findColumnWithPropertyName(name) as Column;
      return { name: column.databaseName, value: driver.preparePersistentValue(row[name], column) as unknown };
    });
}

const condition = (where: ReturnType<typeof said>): string =>
  where.map(({ name, value }) => (value === null ? `"${name}" IS NULL` : `"${name}" = ?`)).join(' AND ');

const values = (columns: ReturnType<typeof said>): unknown[] =>
  columns.map(({ value }) => value).filter((value) => value !== null);

/**
 * The row with these columns; null where there is none.
 * @param also columns that are not read unless they are asked for
 */
export async function findRow<E extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<E>,
  where: Equal<E>,
  also: readonly (keyof E)[] = [],
): Promise<E | null> {
  const { tableName, columns } = manager.connection.getMetadata(entity);
  const read = columns.filter(({ isSelect, propertyName }) => isSelect || also.includes(propertyName));
  const names = read.map(({ databaseName }) => `"${databaseName}"`).join(', ');
  const equal = meant(manager, entity, where);
  const [found] = await manager.query<ObjectLiteral[]>(
    `SELECT ${names} FROM "${tableName}" WHERE ${condition(equal)} LIMIT 1`,
    values(equal),
  );
  if (!found) return null;
  const { driver } = manager.connection;
  const row = read.map((column) => [
    column.propertyName,
    driver.prepareHydratedValue(found[column.databaseName], column),
  ]);
  return Object.fromEntries(row) as E;
}

/** As `findRow`. @throws Error where there is none */
export async function findRowOrFail<E extends ObjectLiteral>(...asked: Parameters<typeof findRow<E>>): Promise<E> {
  const found = await findRow(...asked);
  if (!found) throw new Error(`No ${asked[0].connection.getMetadata(asked[1]).tableName} ${JSON.stringify(asked[2])}`);
  return found;
}

/** Writes columns without reading the row first, which `save` does. @returns how many rows were changed */
export async function updateRows<E extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<E>,
  where: Equal<E>,
  change: Equal<E>,
): Promise<number> {
  const { tableName } = manager.connection.getMetadata(entity);
  const [equal, laid] = [meant(manager, entity, where), said(manager, entity, change)];
  const assignments = laid.map(({ name }) => `"${name}" = ?`).join(', ');
  return changed(manager, `UPDATE "${tableName}" SET ${assignments} WHERE ${condition(equal)}`, [
    ...laid.map(({ value }) => value),
    ...values(equal),
  ]);
}

/** @returns how many rows went */
export function deleteRows<E extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<E>,
  where: Equal<E>,
): Promise<number> {
  const { tableName } = manager.connection.getMetadata(entity);
  const equal = meant(manager, entity, where);
  return changed(manager, `DELETE FROM "${tableName}" WHERE ${condition(equal)}`, values(equal));
}

/** @returns its number, where SQLite gives it one */
export function insertRow<E extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<E>,
  row: Equal<E>,
): Promise<number> {
  const { tableName } = manager.connection.getMetadata(entity);
  const laid = said(manager, entity, row);
  const names = laid.map(({ name }) => `"${name}"`).join(', ');
  const sql = `INSERT INTO "${tableName}" (${names}) VALUES (${laid.map(() => '?').join(', ')})`;
  return manager.query<number>(
    sql,
    laid.map(({ value }) => value),
  );
}

async function changed(manager: EntityManager, sql: string, parameters: readonly unknown[]): Promise<number> {
  // outside of a transaction there is no connection to ask by: changes are made in one (Database.transaction)
  const { affected } = await manager.queryRunner!.query(sql, [...parameters], true);
  return affected ?? 0;
}
