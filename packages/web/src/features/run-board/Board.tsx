import { SegmentedControl, VisuallyHidden } from '@mantine/core';
import type { Run } from '@tonos/contract';
import type { Limit } from '@tonos/core';
import { useCallback, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { rulerScale } from '../../plots/ruler-scale.ts';
import { limitText, measureOf } from '../../ui/limit-text.ts';
import { RowsInView } from '../../ui/RowsInView.tsx';
import { BoardRow } from './BoardRow.tsx';
import { outlierNotes } from './outlier-notes.ts';
import classes from './RunBoard.module.css';
import { SpreadRow } from './SpreadRow.tsx';
import { type ItemFilter, type ItemOrder, shownItems } from './sort-items.ts';

/** Up to three limits leave room for a long ruler. */
const rulerWidth = (limits: number) => (limits <= 3 ? 150 : limits <= 4 ? 110 : 54);

const ROW_HEIGHT_PX = 46;

export function Board({ run, limits }: { run: Run; limits: readonly Limit[] }) {
  const [asked] = useSearchParams();
  const [filter, setFilter] = useState<ItemFilter>(asked.get('show') === 'exceptions' ? 'exceptions' : 'all');
  const [order, setOrder] = useState<ItemOrder>('title');
  // rows that are out of sight are gone: what is open is remembered here
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const toggle = useCallback(
    (id: string) =>
      setOpened((before) => new Set(before.has(id) ? [...before].filter((one) => one !== id) : [...before, id])),
    [],
  );
  const notes = useMemo(() => outlierNotes(run.items), [run.items]);
  const shown = useMemo(() => shownItems(run.items, filter, order), [run.items, filter, order]);
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
          <SegmentedControl
            size="xs"
            aria-label="Order"
            data={[
              { value: 'title', label: 'In order' },
              { value: 'worst', label: 'Worst first' },
            ]}
            value={order}
            onChange={(value) => setOrder(value as ItemOrder)}
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
          <thead>
            <tr>
              <th className="place">No.</th>
              <th className="held-start">Recording</th>
              {run.orderId && <th>Parts</th>}
              {limits.map((limit) => {
                const { title, unit } = measureOf(limit.measure);
                return (
                  <th key={limit.measure}>
                    <span className={classes.head}>
                      <span>
                        {title}
                        {!limit.required && <span className="quiet"> advisory</span>}
                      </span>
                      <span className={classes.window}>
                        {limitText(limit)} {limit.measure === 'durationSeconds' ? '' : unit}
                      </span>
                    </span>
                  </th>
                );
              })}
              <th className={`held-end ${classes.verdictHead}`}>Verdict</th>
              <th className="held-end">
                <VisuallyHidden>Listen and download</VisuallyHidden>
              </th>
            </tr>
            <SpreadRow
              items={run.items}
              limits={limits}
              scales={scales}
              rulerWidth={rulerWidth(limits.length)}
              withParts={run.orderId !== null}
            />
          </thead>
          <RowsInView rows={shown} heightPx={ROW_HEIGHT_PX} columns={limits.length + (run.orderId ? 5 : 4)}>
            {(item, place) => (
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
