import { ActionIcon, Button, Switch, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconStar, IconStarFilled } from '@tabler/icons-react';
import type { ChainSummary } from '@tonos/contract';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { For } from '../../people/For.tsx';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerTable } from '../../ui/table/LedgerTable.tsx';
import { type LedgerColumn, shownAs, sortedBy } from '../../ui/table/use-ledger-table.ts';
import { moment } from '../../ui/time.ts';
import classes from './ChainsPage.module.css';
import { findChains } from './find-chains.ts';
import { ImportChain } from './ImportChain.tsx';
import { NewChainForm } from './NewChainForm.tsx';

/** The chains that everybody here shares. */
export function ChainsPage() {
  const { data: chains, error, refetch } = api.useChainsQuery();
  const [naming, form] = useDisclosure(false);
  const [typed, setTyped] = useState('');
  const [archived, setArchived] = useState(false);
  const found = useMemo(() => findChains(chains ?? [], typed, archived), [chains, typed, archived]);
  return (
    <Page
      title="Chains"
      about="Steps in order, shared by everybody. Runs use a revision; work in progress is a draft."
      acts={
        <For least="engineer">
          <Link to="/modules" className="small">
            Modules
          </Link>
          <ImportChain chains={chains ?? []} />
          <Button onClick={form.open}>New chain</Button>
          <NewChainForm opened={naming} onClose={form.close} />
        </For>
      }
    >
      {error && <Trouble error={error} retry={refetch} />}
      {chains?.length === 0 && (
        <p className="empty">No chain yet. Make one, and add steps by typing what you want of them.</p>
      )}
      {chains && chains.length > 0 && (
        <>
          <div className={classes.find}>
            <TextInput
              w={330}
              variant="unstyled"
              className={classes.typed}
              aria-label="Find a chain"
              placeholder="Show only: a name, a tag, a title that uses it"
              value={typed}
              onChange={(event) => setTyped(event.currentTarget.value)}
            />
            {chains.some((chain) => chain.archived) && (
              <Switch
                size="xs"
                label="archived"
                checked={archived}
                onChange={(event) => setArchived(event.currentTarget.checked)}
              />
            )}
          </div>
          <LedgerTable rows={found} columns={COLUMNS} />
          {found.length === 0 && <p className="empty">No chain is found by that.</p>}
        </>
      )}
    </Page>
  );
}

const NUMBER = { className: 'number' };

const COLUMNS: LedgerColumn<ChainSummary>[] = [
  shownAs('star', 'Star', {
    meta: { unseen: true, cellClass: classes.star },
    cell: ({ row }) => <Star chain={row.original} />,
  }),
  sortedBy('name', 'Chain', ({ name }) => name, {
    meta: { cellClass: 'name' },
    cell: ({ row: { original } }) => (
      <>
        <Link className="plain" to={`/chains/${original.id}`}>
          {original.name}
        </Link>
        {original.hasDraft && <span className="advice small"> draft</span>}
      </>
    ),
  }),
  shownAs('for', 'For', {
    meta: { cellClass: 'quiet small' },
    cell: ({ row: { original } }) => (
      <>
        {original.notes}
        {original.tags.map((tag) => (
          <span key={tag} className={classes.tag}>
            {tag}
          </span>
        ))}
      </>
    ),
  }),
  sortedBy('steps', 'Steps', ({ stepCount }) => stepCount, { meta: NUMBER, cell: ({ getValue }) => getValue() }),
  sortedBy('revision', 'Revision', ({ revision }) => revision, { meta: NUMBER, cell: ({ getValue }) => getValue() }),
  sortedBy('used', 'Used by', ({ usedBy }) => usedBy.runs, {
    sortDescFirst: true,
    meta: { cellClass: 'small' },
    cell: ({ row }) => <UsedBy chain={row.original} />,
  }),
  sortedBy('last-run', 'Last run', ({ usedBy }) => usedBy.lastRunAt, {
    sortDescFirst: true,
    meta: { cellClass: `quiet small ${classes.when}` },
    cell: ({ row: { original } }) => original.usedBy.lastRunAt && moment(original.usedBy.lastRunAt),
  }),
  sortedBy('changed', 'Changed', ({ changedAt }) => changedAt, {
    sortDescFirst: true,
    meta: { cellClass: `quiet small ${classes.when}` },
    cell: ({ row }) => moment(row.original.changedAt),
  }),
];

function Star({ chain: { id, name, starred } }: { chain: ChainSummary }) {
  const [change] = api.useChangeChainMutation();
  return (
    <ActionIcon
      size="sm"
      aria-label={`Star ${name}`}
      aria-pressed={starred}
      onClick={() => void change({ id, starred: !starred })}
    >
      {starred ? <IconStarFilled size={15} /> : <IconStar size={15} />}
    </ActionIcon>
  );
}

function UsedBy({ chain: { usedBy } }: { chain: ChainSummary }) {
  return (
    <>
      {usedBy.titles.map((title) => title.name).join(', ')}
      {usedBy.runs > 0 && (
        <span className="quiet">
          {usedBy.titles.length > 0 && ', '}
          {usedBy.runs} {usedBy.runs === 1 ? 'run' : 'runs'}
        </span>
      )}
    </>
  );
}
