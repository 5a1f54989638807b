import type { Run } from '@tonos/contract';
import type { Limit } from '@tonos/core';
import { useMemo } from 'react';
import { rulerScale } from '../../plots/ruler-scale.ts';
import { limitText, measureOf } from '../../ui/limit-text.ts';
import { BoardRow } from './BoardRow.tsx';
import classes from './RunBoard.module.css';

/** Up to three limits leave room for a long ruler. */
const rulerWidth = (limits: number) => (limits <= 3 ? 150 : limits <= 4 ? 110 : 54);

export function Board({ run, limits }: { run: Run; limits: readonly Limit[] }) {
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
    <table className="ledger">
      <thead>
        <tr>
          <th className="place">No.</th>
          <th>Recording</th>
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
          <th>Verdict</th>
          <th aria-label="Listen and download" />
        </tr>
      </thead>
      <tbody>
        {run.items.map((item) => (
          <BoardRow
            key={item.id}
            run={run}
            item={item}
            limits={limits}
            scales={scales}
            rulerWidth={rulerWidth(limits.length)}
          />
        ))}
      </tbody>
    </table>
  );
}
