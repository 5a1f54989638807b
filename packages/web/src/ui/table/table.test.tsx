/** @jest-environment ./scripts/jest-dom.mjs */
import { MantineProvider } from '@mantine/core';
import { act, fireEvent, render, renderHook, screen } from '@testing-library/react';
import { useState } from 'react';
import { chooseColumn } from './choose-column.tsx';
import { TableHead } from './TableHead.tsx';
import { useChosenRows } from './use-chosen-rows.ts';
import { areInPlace, type LedgerColumn, sortedBy, useLedgerTable } from './use-ledger-table.ts';

interface Take {
  id: string;
  name: string;
  level: number | null;
}

const COLUMNS: LedgerColumn<Take>[] = [
  chooseColumn(),
  sortedBy('name', 'Name', ({ name }) => name),
  sortedBy('level', 'Level', ({ level }) => level, { sortDescFirst: true }),
];
const TAKES: Take[] = [
  { id: 'a', name: 'take 10', level: -20 },
  { id: 'b', name: 'take 9', level: null },
  { id: 'c', name: 'Take 1', level: -30 },
  { id: 'd', name: 'take 2', level: -20 },
];

function Takes() {
  const [rows, setRows] = useState(TAKES);
  const table = useLedgerTable(rows, COLUMNS, [{ id: 'name', desc: false }]);
  const { chosen, toggle } = useChosenRows(table);
  return (
    <MantineProvider>
      <table>
        <TableHead table={table} />
        <tbody>
          {table.getRowModel().rows.map(({ id }) => (
            <tr key={id} data-testid={id} onClick={(event) => toggle(id, event.shiftKey)}>
              <td>{id}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p data-testid="chosen">{[...chosen].sort().join('')}</p>
      <button type="button" onClick={() => setRows(TAKES.slice(0, 2))}>
        fewer
      </button>
    </MantineProvider>
  );
}

const order = () =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map((row) => row.textContent)
    .join('');
const chosen = () => screen.getByTestId('chosen').textContent;
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));
const sortOf = (name: string) => screen.getByRole('columnheader', { name }).getAttribute('aria-sort');

it('a heading sorts by its column and the other way; names as people count, what has no figure last, equal ones as they came', () => {
  render(<Takes />);
  expect([order(), sortOf('Name')]).toEqual(['cdba', 'ascending']);
  press('Name');
  expect([order(), sortOf('Name')]).toEqual(['abdc', 'descending']);
  press('Level');
  expect([order(), sortOf('Level'), sortOf('Name')]).toEqual(['adcb', 'descending', null]);
  press('Level');
  expect([order(), sortOf('Level')]).toEqual(['cadb', 'ascending']);
});

it('rows that come in place are taken as they are, until somebody sorts them, and again when one of them has moved', () => {
  const places = (list: readonly number[]) => list.map((position) => ({ id: `${position}`, position }));
  const columns = [sortedBy<{ id: string; position: number }>('position', 'Place', ({ position }) => position)];
  const first = [{ id: 'position', desc: false }];
  const { result, rerender } = renderHook(
    (rows: ReturnType<typeof places>) => useLedgerTable(rows, columns, first, areInPlace(rows)),
    {
      initialProps: places([1, 2, 2, 9]),
    },
  );
  const shown = () => result.current.getRowModel().rows.map(({ original }) => original.position);
  expect(result.current.getSortedRowModel()).toBe(result.current.getCoreRowModel());
  expect(shown()).toEqual([1, 2, 2, 9]);
  rerender(places([1, 9, 2]));
  expect(shown()).toEqual([1, 2, 9]);
  rerender(places([1, 2, 9]));
  act(() => result.current.setSorting([{ id: 'position', desc: true }]));
  expect(shown()).toEqual([9, 2, 1]);
});

it('rows are chosen one by one, or all between two as they are shown; they stay chosen in another order and out of sight', () => {
  render(<Takes />);
  fireEvent.click(screen.getByTestId('c'));
  fireEvent.click(screen.getByTestId('b'), { shiftKey: true });
  expect(chosen()).toBe('bcd');
  const all = screen.getByRole('checkbox', { name: 'Choose all' });
  expect([(all as HTMLInputElement).indeterminate, (all as HTMLInputElement).checked]).toEqual([true, false]);
  press('Level');
  expect(chosen()).toBe('bcd');
  fireEvent.click(screen.getByTestId('d'));
  expect(chosen()).toBe('bc');
  press('fewer');
  expect(chosen()).toBe('bc');
  fireEvent.click(all);
  expect(chosen()).toBe('abc');
  fireEvent.click(all);
  expect(chosen()).toBe('c');
});
