import { VisuallyHidden } from '@mantine/core';
import { flexRender, type Header, type RowData, type Table } from '@tanstack/react-table';
import type { ReactNode } from 'react';
import classes from './TableHead.module.css';

interface TableHeadProps<Row extends RowData> {
  table: Table<Row>;
  /** Rows that stand under the head and belong to it. */
  children?: ReactNode;
}

/** The head of a ledger: a heading sorts by its column, and the other way when pressed again. */
export function TableHead<Row extends RowData>({ table, children }: TableHeadProps<Row>) {
  return (
    <thead>
      {table.getHeaderGroups().map((group) => (
        <tr key={group.id}>
          {group.headers.map((header) => (
            <Head key={header.id} header={header} />
          ))}
        </tr>
      ))}
      {children}
    </thead>
  );
}

function Head<Row extends RowData>({ header }: { header: Header<Row, unknown> }) {
  const { column } = header;
  const { className, unseen } = column.columnDef.meta ?? {};
  const text = flexRender(column.columnDef.header, header.getContext());
  const sorted = column.getIsSorted();
  return (
    <th className={className} aria-sort={sorted === false ? undefined : sorted === 'desc' ? 'descending' : 'ascending'}>
      {unseen ? (
        <VisuallyHidden>{text}</VisuallyHidden>
      ) : column.getCanSort() ? (
        <button type="button" className={classes.sort} onClick={column.getToggleSortingHandler()}>
          {text}
          {sorted && <span aria-hidden>{sorted === 'desc' ? ' \u2193' : ' \u2191'}</span>}
        </button>
      ) : (
        text
      )}
    </th>
  );
}
