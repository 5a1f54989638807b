import type { RunItem } from '@tonos/contract';
import type { Limit } from '@tonos/core';
import { limitText, measureOf } from '../../ui/limit-text.ts';
import { type LedgerColumn, shownAs, sortedBy } from '../../ui/table/use-ledger-table.ts';
import classes from './RunBoard.module.css';
import { badness } from './sort-items.ts';

/** The board of a run: a column for each limit of its target. What is worst comes first where one sorts by the verdict. */
export const boardColumns = (limits: readonly Limit[], withParts: boolean): LedgerColumn<RunItem>[] => [
  sortedBy('position', 'No.', ({ position }) => position, { meta: { className: 'place' } }),
  sortedBy('name', 'Recording', ({ name }) => name, { meta: { className: 'held-start' } }),
  ...(withParts ? [shownAs<RunItem>('parts', 'Parts')] : []),
  ...limits.map((limit) =>
    sortedBy<RunItem>(
      limit.measure,
      () => <LimitHead limit={limit} />,
      ({ after }) => after?.[limit.measure],
    ),
  ),
  sortedBy('verdict', 'Verdict', badness, {
    sortDescFirst: true,
    meta: { className: `held-end ${classes.verdictHead}` },
  }),
  shownAs('acts', 'Listen and download', { meta: { className: 'held-end', unseen: true } }),
];

function LimitHead({ limit }: { limit: Limit }) {
  const { title, unit } = measureOf(limit.measure);
  return (
    <span className={classes.head}>
      <span>
        {title}
        {!limit.required && <span className="quiet"> advisory</span>}
      </span>
      <span className={classes.window}>
        {limitText(limit)} {limit.measure === 'durationSeconds' ? '' : unit}
      </span>
    </span>
  );
}
