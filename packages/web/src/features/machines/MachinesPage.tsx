import { Button, Group, Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { Machine, Machines } from '@tonos/contract';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { useMay } from '../../people/use-me.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { sizeText } from '../../ui/size-text.ts';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { moment } from '../../ui/time.ts';
import classes from './Machines.module.css';
import { isDeserted, stateText, underWayText } from './machine-texts.ts';
import { TokenForm, WorkerTokens } from './WorkerTokens.tsx';

const LOOK_EVERY_MS = 2000;

/** What computes: this server and the machines that work along. */
export function MachinesPage() {
  const isLead = useMay('lead');
  const isOwner = useMay('owner');
  const { data, error, refetch } = api.useMachinesQuery(undefined, { pollingInterval: LOOK_EVERY_MS });
  const [making, form] = useDisclosure(false);
  const columns = ['Name', 'State', 'Works on', 'Threads', 'Speed', 'Cache', 'Last heard'];
  return (
    <Page
      title="Machines"
      about={data && underWayText(data)}
      acts={isOwner && <Button onClick={form.open}>Add a machine</Button>}
    >
      {error && <Trouble error={error} retry={refetch} />}
      {data?.queue.status === 'away' && (
        <p className="advice">
          The queue is away. Work goes on: machines ask the server every few seconds until it is back.
        </p>
      )}
      {data && isDeserted(data) && (
        <p className="advice">
          Nobody takes work: this server leaves it to others, and none is there. What waits is kept; start a machine, or
          the server without TONOS_LOCAL_THREADS=0.
        </p>
      )}
      {data && (
        <table className="ledger">
          <LedgerHead columns={columns} acts={isLead} />
          <tbody>
            <ServerRow here={data.here} columns={columns.length + (isLead ? 1 : 0)} />
            {data.machines.map((machine) => (
              <MachineRow key={machine.id} machine={machine} isLead={isLead} />
            ))}
          </tbody>
        </table>
      )}
      {data?.machines.length === 0 && (
        <p className="quiet small">
          This server works by itself. Where nights get too long for it, other machines can work along: each renders the
          same to the byte.
        </p>
      )}
      {isOwner && <WorkerTokens />}
      <Modal opened={making} onClose={form.close} title="Add a machine" size="lg">
        <TokenForm hasQueue={data?.queue.kind === 'redis'} onDone={form.close} />
      </Modal>
    </Page>
  );
}

function ServerRow({ here, columns }: { here: Machines['here']; columns: number }) {
  const isBusy = here.doing.length + here.measuring > 0;
  return (
    <tr>
      <td className="name">This server</td>
      <td>{here.threads ? (isBusy ? 'working' : 'ready') : 'leaves work to others'}</td>
      <td>
        <Doing doing={here.doing} measuring={here.measuring} />
      </td>
      <td className={classes.figure}>{here.threads}</td>
      <td colSpan={columns - 4} />
    </tr>
  );
}

function MachineRow({ machine, isLead }: { machine: Machine; isLead: boolean }) {
  const { id, name, version, threads, state, reason, timesRealTime, cacheBytes, cacheLimitBytes, lastHeardAt } =
    machine;
  const [drain] = api.useDrainMachineMutation();
  const [resume] = api.useResumeMachineMutation();
  const [forget] = api.useForgetMachineMutation();
  const act = async (done: Promise<{ error?: unknown }>, told: string) => {
    const { error } = await done;
    if (error) sayError(`Nothing was changed about ${name}`, error);
    else say(told);
  };
  const isBad = state === 'lost' || state === 'refused';
  return (
    <tr className={`${classes.row} ${state === 'lost' ? classes.lost : ''}`}>
      <td className="name">
        {name}
        <div className={`quiet small ${classes.version}`}>Tonos {version}</div>
      </td>
      <td className={classes.state}>
        <span className={isBad ? 'advice' : undefined}>{stateText(machine)}</span>
        {reason && <div className="quiet small">{reason}</div>}
      </td>
      <td>
        <Doing doing={machine.doing} measuring={machine.measuring} />
      </td>
      <td className={classes.figure}>{threads}</td>
      <td className={classes.figure}>
        {timesRealTime === null ? '\u2013' : `${timesRealTime.toFixed(0)}\u00d7 real time`}
      </td>
      <td className={classes.figure}>
        {sizeText(cacheBytes)} <span className="quiet small">of {sizeText(cacheLimitBytes)}</span>
      </td>
      <td className="quiet small">{state === 'lost' ? moment(lastHeardAt) : 'now'}</td>
      {isLead && (
        <td>
          <Group gap={8} justify="flex-end" wrap="nowrap">
            {state === 'lost' && (
              <Button size="compact-xs" variant="subtle" onClick={() => void act(forget(id), `${name} is forgotten.`)}>
                Forget
              </Button>
            )}
            {state === 'draining' && (
              <Button size="compact-xs" variant="default" onClick={() => void act(resume(id), `${name} takes work.`)}>
                Take back in
              </Button>
            )}
            {(state === 'working' || state === 'resting') && (
              <Button
                size="compact-xs"
                variant="default"
                title="It ends what it has and gets nothing new"
                onClick={() => void act(drain(id), `${name} ends what it has, and gets nothing new.`)}
              >
                Drain
              </Button>
            )}
          </Group>
        </td>
      )}
    </tr>
  );
}

/** The runs whose items something renders, and what it measures. */
function Doing({ doing, measuring }: Pick<Machine, 'doing' | 'measuring'>) {
  const runs = new Map<string, number>();
  for (const { runId } of doing) runs.set(runId, (runs.get(runId) ?? 0) + 1);
  const { data: known = [] } = api.useRunsQuery();
  const titleOf = new Map(known.map(({ id, titleName }) => [id, titleName]));
  if (!runs.size && !measuring) return <span className="quiet">{'\u2013'}</span>;
  return (
    <>
      {[...runs].map(([runId, items]) => (
        <div key={runId}>
          {items > 1 && `${items} of `}
          <Link to={`/runs/${runId}`}>{titleOf.get(runId) ?? 'a run'}</Link>
        </div>
      ))}
      {measuring > 0 && <div>{measuring === 1 ? 'measures a recording' : `measures ${measuring} recordings`}</div>}
    </>
  );
}
