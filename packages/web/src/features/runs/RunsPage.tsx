import { Button, Progress, SegmentedControl, VisuallyHidden } from '@mantine/core';
import type { RunSummary } from '@tonos/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { useMay } from '../../people/use-me.ts';
import { Page } from '../../ui/Page.tsx';
import { ShowOnly } from '../../ui/ShowOnly.tsx';
import { ThrowAwayButton } from '../../ui/ThrowAwayButton.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
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
  const listed = filterRuns(runs ?? [], shown, typed);
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
          {listed.length > 0 && <RunTable runs={listed} />}
        </>
      )}
    </Page>
  );
}

function RunTable({ runs }: { runs: readonly RunSummary[] }) {
  return (
    <table className="ledger">
      <thead>
        <tr>
          <th>Title</th>
          <th>Chain</th>
          <th>Target</th>
          <th className="number">Within</th>
          <th className="number">Off target</th>
          <th className="number">Failed</th>
          <th>State</th>
          <th>Started</th>
          <th>
            <VisuallyHidden>Acts</VisuallyHidden>
          </th>
        </tr>
      </thead>
      <tbody>
        {runs.map((run) => (
          <tr key={run.id}>
            <td className="name">
              <Link className="plain" to={`/runs/${run.id}`}>
                {run.titleName}
              </Link>
            </td>
            <td>
              {run.chainName} <span className="quiet">revision {run.revision}</span>
            </td>
            <td>{run.targetName}</td>
            <td className="number">{run.counts.within}</td>
            <td className={`number ${run.counts['off-target'] > run.accepted ? 'verdict-over' : ''}`}>
              {run.counts['off-target']}
            </td>
            <td className={`number ${run.counts.failed ? 'verdict-over' : ''}`}>{run.counts.failed}</td>
            <td>
              <RunState run={run} />
            </td>
            <td className="quiet small">{moment(run.createdAt)}</td>
            <td align="right">
              <ThrowAwayButton
                what={{ kind: 'run', id: run.id }}
                name={`The run of ${run.titleName}`}
                disabled={openCount(run) > 0}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

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
