import type { RowData, Table } from '@tanstack/react-table';
import { useMemo, useRef } from 'react';
import { useLatest } from '../use-latest.ts';

export interface ChosenRows {
  chosen: ReadonlySet<string>;
  /** One more or less; with `range`, all between the last one and this one, as they are shown. */
  toggle(id: string, range: boolean): void;
  set(ids: readonly string[]): void;
}

const asState = (ids: Iterable<string>): Record<string, boolean> =>
  Object.fromEntries([...ids].map((id) => [id, true]));

/** Rows of a table that are chosen, whether they are in sight or not. */
export function useChosenRows<Row extends RowData>(table: Table<Row>): ChosenRows {
  const { rowSelection } = table.getState();
  const chosen = useMemo(() => new Set(Object.keys(rowSelection).filter((id) => rowSelection[id])), [rowSelection]);
  const last = useRef<string>(null);
  const toggle = useLatest((id: string, range: boolean) => {
    const shown = table.getRowModel().rows.map((row) => row.id);
    const from = last.current === null ? -1 : shown.indexOf(last.current);
    const to = shown.indexOf(id);
    const ids = range && from >= 0 ? shown.slice(Math.min(from, to), Math.max(from, to) + 1) : [id];
    const next = new Set(chosen);
    for (const one of ids) {
      if (chosen.has(id)) next.delete(one);
      else next.add(one);
    }
    last.current = id;
    table.setRowSelection(asState(next));
  });
  const set = useLatest((ids: readonly string[]) => table.setRowSelection(asState(ids)));
  return { chosen, toggle, set };
}
