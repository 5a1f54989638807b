import { Checkbox } from '@mantine/core';
import type { RowData, Table } from '@tanstack/react-table';
import { type LedgerColumn, shownAs } from './use-ledger-table.ts';

/** The column of boxes that rows are chosen by; its head takes all that are shown. */
export const chooseColumn = <Row extends RowData>(className?: string): LedgerColumn<Row> =>
  shownAs<Row>('choose', ({ table }) => <ChooseAll table={table} />, { meta: { className } });

function ChooseAll<Row extends RowData>({ table }: { table: Table<Row> }) {
  const all = table.getIsAllRowsSelected();
  return (
    <Checkbox
      size="xs"
      aria-label="Choose all"
      checked={all}
      indeterminate={!all && Object.keys(table.getState().rowSelection).length > 0}
      onChange={() => table.toggleAllRowsSelected(!all)}
    />
  );
}
