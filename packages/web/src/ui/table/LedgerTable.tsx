import { flexRender, getCoreRowModel, type SortingState, useReactTable } from '@tanstack/react-table';
import { TableHead } from './TableHead.tsx';
import { type LedgerColumn, ledgerOptions } from './use-ledger-table.ts';

interface LedgerTableProps<Row> {
  rows: readonly Row[];
  columns: LedgerColumn<Row>[];
  /** How it is sorted until somebody sorts it. */
  first?: SortingState;
}

/** A ledger whose every row is drawn by its columns. */
export function LedgerTable<Row extends { id: string }>({ rows, columns, first }: LedgerTableProps<Row>) {
  const table = useReactTable({
    ...ledgerOptions(rows, columns),
    // its cells are drawn by their columns
    getCoreRowModel: getCoreRowModel(),
    initialState: { sorting: first ?? [] },
  });
  return (
    <div className="wide">
      <table className="ledger">
        <TableHead table={table} />
        <tbody>
          {table.getRowModel().rows.map((row) => (
            <tr key={row.id}>
              {row.getVisibleCells().map(({ id, column, getContext }) => {
                const { className, cellClass } = column.columnDef.meta ?? {};
                return (
                  <td key={id} className={[className, cellClass].filter(Boolean).join(' ') || undefined}>
                    {flexRender(column.columnDef.cell, getContext())}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
