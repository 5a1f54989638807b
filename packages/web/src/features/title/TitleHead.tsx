import { Button, Select } from '@mantine/core';
import { countStandings, type Standing, type Title } from '@tonos/contract';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { StandingCounts } from '../../ui/StandingCounts.tsx';
import classes from './TitleHead.module.css';

interface TitleHeadProps {
  title: Title;
  standings: readonly Standing[];
  onRunOutdated(recordingIds: string[]): void;
}

/** What the title is run with, seen and changed at once, and how much of it was delivered. */
export function TitleHead({ title, standings, onRunOutdated }: TitleHeadProps) {
  const { data: chains = [] } = api.useChainsQuery();
  const { data: targets = [] } = api.useTargetsQuery();
  const [change] = api.useChangeTitleMutation();
  const set = async (part: { chainId: string | null } | { targetId: string | null }) => {
    const { error } = await change({ id: title.id, ...part });
    if (error) sayError('The title was not changed', error);
  };
  const { data: runs = [] } = api.useRunsQuery();
  // what was put together by a running order is put together again there, and not run by the chain
  const orders = new Map(
    runs.flatMap(({ id, orderId, chainName }) => (orderId ? [[id, { id: orderId, name: chainName }] as const] : [])),
  );
  const old = standings.filter(({ state }) => state === 'out-of-date');
  const outdated = old.filter(({ runId }) => !orders.has(runId ?? '')).map(({ recordingId }) => recordingId);
  const outdatedOrders = new Map(
    old.flatMap(({ runId }) => {
      const order = orders.get(runId ?? '');
      return order ? [[order.id, order.name] as const] : [];
    }),
  );
  const current = chains.filter(({ id, archived }) => !archived || id === title.chainId);
  return (
    <div className={classes.line}>
      <span className={classes.choice}>
        <span className="quiet small" aria-hidden>
          Chain
        </span>
        <Select
          size="xs"
          w={230}
          aria-label="Chain of the title"
          placeholder="none yet"
          searchable
          clearable
          data={current.map(({ id, name }) => ({ value: id, label: name }))}
          value={title.chainId}
          onChange={(chainId) => void set({ chainId })}
        />
      </span>
      <span className={classes.choice}>
        <span className="quiet small" aria-hidden>
          Target
        </span>
        <Select
          size="xs"
          w={230}
          aria-label="Target of the title"
          placeholder="none yet"
          searchable
          clearable
          data={targets.map(({ id, name, version }) => ({
            value: id,
            label: version > 1 ? `${name}, version ${version}` : name,
          }))}
          value={title.targetId}
          onChange={(targetId) => void set({ targetId })}
        />
      </span>
      <span className={classes.counts} role="status" aria-live="off">
        {standings.length > 0 && <span className="quiet">Delivered: </span>}
        <StandingCounts counts={countStandings(standings)} />
      </span>
      <Link to={`/titles/${title.id}/figures`}>Figures</Link>
      {outdated.length > 0 && (
        <Button size="compact-sm" variant="default" onClick={() => onRunOutdated(outdated)}>
          Run what is out of date
        </Button>
      )}
      {[...outdatedOrders].map(([id, name]) => (
        <Button key={id} component={Link} to={`/orders/${id}`} size="compact-sm" variant="default">
          {name} is out of date
        </Button>
      ))}
    </div>
  );
}
