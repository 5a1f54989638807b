import type { Row, RowModel, Table } from '@tanstack/react-table';

/** What a table sorts and chooses by; a row whose cells are drawn by their columns has more. */
type SlimRow<Data> = Pick<Row<Data>, 'id' | 'index' | 'original' | 'getValue' | 'getCanSelect'>;

/**
 * The row model of long tables. The library's own rows have forty functions each: with five thousand of them, collecting what the last ones
 * left behind took longer than drawing a change.
 */
export const slimRows =
  <Data extends { id: string }>() =>
  (table: Table<Data>): (() => RowModel<Data>) => {
    let last: { of: readonly Data[]; model: RowModel<Data> } | undefined;
    function getValue(this: SlimRow<Data>, columnId: string) {
      return table.getColumn(columnId)?.accessorFn?.(this.original, this.index) as never;
    }
    const getCanSelect = () => true;
    return () => {
      const { data } = table.options;
      if (last?.of !== data) {
        const rows = data.map(
          (original, index): SlimRow<Data> => ({ id: original.id, index, original, getValue, getCanSelect }),
        ) as Row<Data>[];
        const byId = () => Object.fromEntries(rows.map((row) => [row.id, row]));
        last = {
          of: data,
          model: {
            rows,
            flatRows: rows,
            get rowsById() {
              return byId();
            },
          },
        };
      }
      return last.model;
    };
  };
