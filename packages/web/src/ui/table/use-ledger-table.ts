import {
  type ColumnDef,
  getSortedRowModel,
  type RowData,
  type SortingState,
  type Table,
  type TableOptions,
  useReactTable,
} from '@tanstack/react-table';
import { compareNames } from '../compare-names.ts';
import { slimRows } from './slim-rows.ts';

/** The rows of a ledger: sorted by a column, and chosen. */

declare module '@tanstack/react-table' {
  interface ColumnMeta<TData extends RowData, TValue> {
    /** Of its head, and of its cells where the ledger draws them. */
    className?: string;
    /** The head is for readers only. */
    unseen?: boolean;
    /** Of its cells alone. */
    cellClass?: string;
  }
}

/** What a column sorts by: names, in which numbers count as numbers, or figures; what has none comes last either way. */
export type Sortable = string | number | null | undefined;
export type LedgerColumn<Row> = ColumnDef<Row, Sortable>;

export const compared = (a: Sortable, b: Sortable): number =>
  typeof a === 'string' ? compareNames(a, String(b)) : a === b ? 0 : Number(a) - Number(b);

/** A column that can be sorted by. */
export const sortedBy = <Row>(
  id: string,
  header: LedgerColumn<Row>['header'],
  sortValue: (row: Row) => Sortable,
  more: Pick<LedgerColumn<Row>, 'cell' | 'meta' | 'sortDescFirst'> = {},
): LedgerColumn<Row> => ({
  id,
  header,
  accessorFn: (row) => sortValue(row) ?? undefined,
  sortUndefined: 'last',
  sortDescFirst: false,
  sortingFn: (one, other, column) => compared(one.getValue(column), other.getValue(column)),
  ...more,
});

/** Whether rows come in the order of their places. */
export const areInPlace = (rows: readonly { position: number }[]): boolean =>
  rows.every(({ position }, i) => i === 0 || rows[i - 1].position <= position);

/** One that is only shown. */
export const shownAs = <Row>(
  id: string,
  header: LedgerColumn<Row>['header'],
  more: Pick<LedgerColumn<Row>, 'cell' | 'meta'> = {},
): LedgerColumn<Row> => ({ id, header, enableSorting: false, ...more });

export const ledgerOptions = <Row extends { id: string }>(
  rows: readonly Row[],
  columns: LedgerColumn<Row>[],
): Pick<
  TableOptions<Row>,
  'data' | 'columns' | 'getRowId' | 'getCoreRowModel' | 'getSortedRowModel' | 'enableSortingRemoval' | 'autoResetAll'
> => ({
  data: rows as Row[],
  columns,
  getRowId: ({ id }) => id,
  getCoreRowModel: slimRows(),
  getSortedRowModel: getSortedRowModel(),
  enableSortingRemoval: false,
  // what it would reset, pages and what is folded out, is not used; it draws the table once more whenever a row changes
  autoResetAll: false,
});

/**
 * @param rows and columns that stay the same as long as nothing of them changes
 * @param first how they are sorted until somebody sorts them
 * @param areSorted whether they come like that: thousands are not sorted once more whenever one of them changes
 */
export function useLedgerTable<Row extends { id: string }>(
  rows: readonly Row[],
  columns: LedgerColumn<Row>[],
  first: SortingState = [],
  areSorted = false,
): Table<Row> {
  const table = useReactTable({ ...ledgerOptions(rows, columns), initialState: { sorting: first } });
  const manualSorting = areSorted && table.getState().sorting === table.initialState.sorting;
  table.setOptions((options) => ({ ...options, manualSorting }));
  return table;
}
