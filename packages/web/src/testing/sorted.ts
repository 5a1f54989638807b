import { createTable } from '@tanstack/react-table';
import { type LedgerColumn, ledgerOptions } from '../ui/table/use-ledger-table.ts';

/** Rows as a table shows them that is sorted by a column. */
export function sorted<Row extends { id: string }>(
  rows: readonly Row[],
  columns: LedgerColumn<Row>[],
  by: { id: string; desc: boolean },
): Row[] {
  const table = createTable<Row>({
    ...ledgerOptions(rows, columns),
    state: { sorting: [by], columnPinning: { left: [], right: [] } },
    onStateChange: () => {},
    renderFallbackValue: null,
  });
  return table.getRowModel().rows.map(({ original }) => original);
}
