import { Button, Menu } from '@mantine/core';
import { useInterval } from '@mantine/hooks';
import { pathOf, ROUTES, type Run, type RunChange } from '@tonos/contract';
import { useDeferredValue, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { useAppSelector } from '../../app/store.ts';
import { For } from '../../people/For.tsx';
import { sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { ThrowAwayButton } from '../../ui/ThrowAwayButton.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { moment, timeLeft } from '../../ui/time.ts';
import { Board } from './Board.tsx';
import { CompareMenu } from './CompareMenu.tsx';
import { DeliverToFolder } from './DeliverToFolder.tsx';
import { Remedies } from './Remedies.tsx';
import classes from './RunBoard.module.css';
import { runProgress } from './run-progress.ts';

/** A run: a row a recording, a column a limit. */
export function RunBoardPage() {
  const { id = '' } = useParams();
  const { data: newest, error, refetch } = api.useRunQuery(id);
  // thousands of rows are drawn anew when nothing else waits
  const run = useDeferredValue(newest);
  if (error)
    return (
      <Page title="Run">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  if (!run) return <Page title={'\u00a0'}>{null}</Page>;
  return (
    <Page
      title={run.titleName}
      about={
        <>
          <Link to={run.orderId ? `/orders/${run.orderId}` : `/chains/${run.chainId}`}>{run.chainName}</Link>, revision{' '}
          {run.revision} {'\u2192'} {run.targetName} {'\u00b7'} started {moment(run.createdAt)}
          {run.by && ` by ${run.by}`} {'\u00b7'} <Link to={`/titles/${run.titleId}`}>to the title</Link>
        </>
      }
      acts={<Acts run={run} />}
    >
      {run.unapproved.length > 0 && (
        <p className="advice">
          The title asks for what is approved, and {run.unapproved.join(', and ')}: {run.by || 'somebody'} started it
          all the same.
        </p>
      )}
      <Standing run={run} />
      <Board run={run} limits={run.targetLimits} />
    </Page>
  );
}

function Acts({ run }: { run: Run }) {
  const navigate = useNavigate();
  const [cancel, cancelling] = api.useCancelRunMutation();
  const [retry, retrying] = api.useRetryRunMutation();
  const [remake, remaking] = api.useRemakeRunMutation();
  const { queued, working, failed } = run.counts;
  // what is told of all items is told once all are here
  const arriving = useAppSelector((state) => state.arriving[run.id] ?? false);
  const cleared = run.items.filter((item) => item.cleared && item.status !== 'queued').length;
  const off = run.items.filter(({ status, accepted: taken }) => status === 'off-target' && !taken).map(({ id }) => id);
  const accepted = run.items.filter((item) => item.accepted).length;
  const delivered = run.counts.within + accepted;
  const [change] = api.useChangeRunMutation();
  const alter = async (part: RunChange) => {
    const { error } = await change({ id: run.id, ...part });
    if (error) sayError('The run was not changed', error);
  };
  const cancelRest = async () => {
    const { error } = await cancel(run.id);
    if (error) sayError('The run goes on', error);
  };
  const makeAgain = async () => {
    const { error } = await remake(run.id);
    if (error) sayError('Nothing was made again', error);
  };
  const retryFailed = async () => {
    const { error } = await retry({ id: run.id });
    if (error) sayError('Nothing was tried again', error);
  };
  return (
    <>
      <For least="engineer">
        {queued > 0 && (
          <>
            <Button variant="default" onClick={() => void alter({ first: true })}>
              Put first
            </Button>
            <Button variant="default" onClick={() => void alter({ paused: !run.paused })}>
              {run.paused ? 'Go on' : 'Pause'}
            </Button>
          </>
        )}
        {queued + working > 0 && (
          <Button variant="default" onClick={cancelRest} loading={cancelling.isLoading}>
            Cancel the rest
          </Button>
        )}
        {failed > 0 && (
          <Button variant="default" onClick={retryFailed} loading={retrying.isLoading}>
            Try {failed} failed again
          </Button>
        )}
        {!arriving && !run.orderId && off.length > 0 && queued + working === 0 && <Remedies run={run} itemIds={off} />}
      </For>
      <Menu position="bottom-end">
        <Menu.Target>
          <Button variant="default">Report</Button>
        </Menu.Target>
        <Menu.Dropdown>
          {(['pdf', 'csv', 'json'] as const).map((form) => (
            <Menu.Item key={form} component="a" href={pathOf(ROUTES.report, { id: run.id, form })} download>
              as {form.toUpperCase()}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      <CompareMenu run={run} />
      <For least="engineer">
        <ThrowAwayButton
          what={{ kind: 'run', id: run.id }}
          name={`The run of ${run.titleName}`}
          disabled={queued + working > 0}
          onGone={() => void navigate(`/titles/${run.titleId}`)}
        />
      </For>
      {arriving ? null : cleared > 0 ? (
        <Button onClick={makeAgain} loading={remaking.isLoading}>
          Make {cleared} cleared again
        </Button>
      ) : (
        <>
          <For least="engineer">
            <DeliverToFolder run={run} disabled={delivered === 0} />
          </For>
          <Button
            component="a"
            href={pathOf(ROUTES.package, { id: run.id })}
            download
            data-disabled={delivered === 0 || undefined}
            onClick={(event) => delivered === 0 && event.preventDefault()}
          >
            Download {run.counts.within} within{accepted > 0 && `, ${accepted} accepted`}
          </Button>
        </>
      )}
    </>
  );
}

function Standing({ run }: { run: Run }) {
  const progress = useAppSelector((state) => state.progress);
  const [nowMs, setNow] = useState(Date.now());
  const { counts } = run;
  const open = counts.queued + counts.working > 0;
  useInterval(() => setNow(Date.now()), 1000, { autoInvoke: true });
  const { share, secondsLeft, speed } = runProgress(run, progress, nowMs);
  const count = (number: number, word: string, className = '') =>
    number > 0 && (
      <span className={className}>
        <span className={classes.count}>{number}</span> {word}
      </span>
    );
  return (
    <div className={classes.standing} role="status" aria-live="off">
      {count(counts.within, 'within')}
      {count(counts['off-target'], 'off target', 'verdict-over')}
      {count(counts.failed, 'failed', 'verdict-over')}
      {count(counts.cancelled, 'cancelled', 'quiet')}
      {count(counts.working, 'working')}
      {count(counts.queued, run.paused ? 'resting' : 'waiting', 'quiet')}
      {open && (
        <>
          <div
            className={classes.whole}
            role="progressbar"
            aria-label="Run"
            aria-valuenow={Math.round(100 * share)}
            aria-valuemin={0}
            aria-valuemax={100}
          >
            <div style={{ width: `${100 * share}%` }} />
          </div>
          <span className="quiet small">
            {secondsLeft !== null && timeLeft(secondsLeft)}
            {speed !== null && (
              <>
                {' \u00b7 '}
                <span className="figure">{speed.toFixed(1)}</span>
                {'\u00d7 real time'}
              </>
            )}
          </span>
        </>
      )}
    </div>
  );
}
