import { Button, Progress, SegmentedControl } from '@mantine/core';
import type { RunSummary } from '@tonos/contract';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { useMay } from '../../people/use-me.ts';
import { Page } from '../../ui/Page.tsx';
import { ShowOnly } from '../../ui/ShowOnly.tsx';
import { ThrowAwayButton } from '../../ui/ThrowAwayButton.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerTable } from '../../ui/table/LedgerTable.tsx';
import { type LedgerColumn, shownAs, sortedBy } from '../../ui/table/use-ledger-table.ts';
import { moment } from '../../ui/time.ts';
import { filterRuns, openCount, type RunsShown, unsettledCount } from './filter-runs.ts';
import { RunsChart } from './RunsChart.tsx';
import classes from './RunsPage.module.css';

const SHOWN: { value: RunsShown; label: string }[] = [
  { value: 'all', label: 'All' },
  { value: 'under-way', label: 'Under way' },
  { value: 'to-settle', label: 'To settle' },
  { value: 'settled', label: 'Settled' },
];

/** Every batch, the newest first. */
export function RunsPage() {
  const { data: runs, error, refetch } = api.useRunsQuery();
  const isEngineer = useMay('engineer');
  const [shown, setShown] = useState<RunsShown>('all');
  const [typed, setTyped] = useState('');
  const listed = useMemo(() => filterRuns(runs ?? [], shown, typed), [runs, shown, typed]);
  return (
    <Page
      title="Runs"
      about="Batches: recordings, a chain’s revision, a target."
      acts={
        isEngineer && (
          <Button component={Link} to="/machines" variant="default">
            Machines
          </Button>
        )
      }
    >
      {error && <Trouble error={error} retry={refetch} />}
      {runs?.length === 0 && <p className="empty">No run yet. Open a title, choose recordings and press Run.</p>}
      {runs && runs.length > 0 && (
        <>
          <RunsChart runs={runs} />
          <div className={classes.tools}>
            <SegmentedControl
              size="xs"
              aria-label="Which runs"
              data={SHOWN}
              value={shown}
              onChange={(value) => setShown(value as RunsShown)}
            />
            <ShowOnly words="a title, a chain, a target" value={typed} onChange={setTyped} />
          </div>
          {listed.length === 0 && <p className="quiet">None of the {runs.length} runs is like this.</p>}
          {listed.length > 0 && <LedgerTable rows={listed} columns={COLUMNS} first={NEWEST_FIRST} />}
        </>
      )}
    </Page>
  );
}

const NUMBER = { className: 'number' };
const MOST_FIRST = { sortDescFirst: true, meta: NUMBER };
const NEWEST_FIRST = [{ id: 'started', desc: true }];

const COLUMNS: LedgerColumn<RunSummary>[] = [
  sortedBy('title', 'Title', ({ titleName }) => titleName, {
    meta: { cellClass: 'name' },
    cell: ({ row: { original } }) => (
      <Link className="plain" to={`/runs/${original.id}`}>
        {original.titleName}
      </Link>
    ),
  }),
  sortedBy('chain', 'Chain', ({ chainName }) => chainName, {
    cell: ({ row: { original } }) => (
      <>
        {original.chainName} <span className="quiet">revision {original.revision}</span>
      </>
    ),
  }),
  sortedBy('target', 'Target', ({ targetName }) => targetName, { cell: ({ getValue }) => getValue() }),
  sortedBy('within', 'Within', ({ counts }) => counts.within, { ...MOST_FIRST, cell: ({ getValue }) => getValue() }),
  sortedBy('off', 'Off target', ({ counts }) => counts['off-target'], {
    ...MOST_FIRST,
    cell: ({ row: { original } }) => (
      <Count count={original.counts['off-target']} bad={original.counts['off-target'] > original.accepted} />
    ),
  }),
  sortedBy('failed', 'Failed', ({ counts }) => counts.failed, {
    ...MOST_FIRST,
    cell: ({ row: { original } }) => <Count count={original.counts.failed} bad={original.counts.failed > 0} />,
  }),
  sortedBy('state', 'State', (run) => openCount(run) + unsettledCount(run), {
    sortDescFirst: true,
    cell: ({ row }) => <RunState run={row.original} />,
  }),
  sortedBy('started', 'Started', ({ createdAt }) => createdAt, {
    sortDescFirst: true,
    meta: { cellClass: 'quiet small' },
    cell: ({ row }) => moment(row.original.createdAt),
  }),
  shownAs('acts', 'Acts', {
    meta: { unseen: true, cellClass: 'number' },
    cell: ({ row: { original } }) => (
      <ThrowAwayButton
        what={{ kind: 'run', id: original.id }}
        name={`The run of ${original.titleName}`}
        disabled={openCount(original) > 0}
      />
    ),
  }),
];

const Count = ({ count, bad }: { count: number; bad: boolean }) => (
  <span className={bad ? 'verdict-over' : undefined}>{count}</span>
);

/** How far it is, or what is left of it for somebody to settle. */
function RunState({ run }: { run: RunSummary }) {
  const open = openCount(run);
  const all = Object.values(run.counts).reduce((sum, count) => sum + count, 0);
  if (open > 0)
    return (
      <span className={classes.underWay}>
        <Progress
          className={classes.bar}
          value={(100 * (all - open)) / all}
          aria-label={`${all - open} of ${all} done`}
        />
        {all - open} of {all}
        {run.paused && ', paused'}
      </span>
    );
  const left = unsettledCount(run);
  const accepted = run.accepted > 0 ? `${run.accepted} accepted` : '';
  if (left > 0)
    return <span className="verdict-over">{[`${left} to settle`, accepted].filter(Boolean).join(', ')}</span>;
  if (run.status === 'cancelled') return <span className="quiet">cancelled</span>;
  return <span className="verdict-within">{accepted ? `settled, ${accepted}` : 'settled'}</span>;
}
