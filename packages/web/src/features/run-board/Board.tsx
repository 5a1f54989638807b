import { SegmentedControl } from '@mantine/core';
import type { Run } from '@tonos/contract';
import type { Limit } from '@tonos/core';
import { useCallback, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { rulerScale } from '../../plots/ruler-scale.ts';
import { measureOf } from '../../ui/limit-text.ts';
import { RowsInView } from '../../ui/table/RowsInView.tsx';
import { TableHead } from '../../ui/table/TableHead.tsx';
import { areInPlace, useLedgerTable } from '../../ui/table/use-ledger-table.ts';
import { BoardRow } from './BoardRow.tsx';
import { boardColumns } from './board-columns.tsx';
import { outlierNotes } from './outlier-notes.ts';
import classes from './RunBoard.module.css';
import { SpreadRow } from './SpreadRow.tsx';
import { type ItemFilter, shownItems } from './sort-items.ts';

/** Up to three limits leave room for a long ruler. */
const rulerWidth = (limits: number) => (limits <= 3 ? 150 : limits <= 4 ? 110 : 54);

const ROW_HEIGHT_PX = 46;
const IN_ORDER = [{ id: 'position', desc: false }];

export function Board({ run, limits }: { run: Run; limits: readonly Limit[] }) {
  const [asked] = useSearchParams();
  const [filter, setFilter] = useState<ItemFilter>(asked.get('show') === 'exceptions' ? 'exceptions' : 'all');
  // rows that are out of sight are gone: what is open is remembered here
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const toggle = useCallback(
    (id: string) =>
      setOpened((before) => new Set(before.has(id) ? [...before].filter((one) => one !== id) : [...before, id])),
    [],
  );
  const notes = useMemo(() => outlierNotes(run.items), [run.items]);
  const shown = useMemo(() => shownItems(run.items, filter), [run.items, filter]);
  const withParts = run.orderId !== null;
  const columns = useMemo(() => boardColumns(limits, withParts), [limits, withParts]);
  const table = useLedgerTable(shown, columns, IN_ORDER, areInPlace(shown));
  const scales = useMemo(
    () =>
      limits.map(({ measure, min, max }) => {
        const values = run.items
          .flatMap(({ before, after }) => [before?.[measure], after?.[measure]])
          .filter((value): value is number => typeof value === 'number');
        return rulerScale(min, max, values, measureOf(measure).unit);
      }),
    [run.items, limits],
  );
  return (
    <>
      {run.items.length > 1 && (
        <div className={classes.tools}>
          <SegmentedControl
            size="xs"
            aria-label="Which items"
            data={[
              { value: 'all', label: 'All' },
              { value: 'exceptions', label: 'Exceptions' },
              { value: 'within', label: 'Within' },
              { value: 'open', label: 'Open' },
            ]}
            value={filter}
            onChange={(value) => setFilter(value as ItemFilter)}
          />
          {notes.size > 0 && (
            <span className="advice small">
              {notes.size} {notes.size === 1 ? 'departs' : 'depart'} from the rest
            </span>
          )}
        </div>
      )}
      {shown.length === 0 && <p className="quiet">There is none of these.</p>}
      <div className="wide">
        <table className="ledger" aria-rowcount={shown.length + 1}>
          <TableHead table={table}>
            <SpreadRow
              items={run.items}
              limits={limits}
              scales={scales}
              rulerWidth={rulerWidth(limits.length)}
              withParts={withParts}
            />
          </TableHead>
          <RowsInView rows={table.getRowModel().rows} heightPx={ROW_HEIGHT_PX} columns={columns.length}>
            {({ original: item }, place) => (
              <BoardRow
                run={run}
                item={item}
                place={place}
                limits={limits}
                scales={scales}
                rulerWidth={rulerWidth(limits.length)}
                notes={notes.get(item.id)}
                opened={opened.has(item.id)}
                toggle={toggle}
              />
            )}
          </RowsInView>
        </table>
      </div>
    </>
  );
}
