import { ActionIcon, Button, Switch, TextInput, VisuallyHidden } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconStar, IconStarFilled } from '@tabler/icons-react';
import type { ChainSummary } from '@tonos/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { For } from '../../people/For.tsx';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
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
  const found = findChains(chains ?? [], typed, archived);
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
          <ChainTable chains={found} />
          {found.length === 0 && <p className="empty">No chain is found by that.</p>}
        </>
      )}
    </Page>
  );
}

function ChainTable({ chains }: { chains: readonly ChainSummary[] }) {
  const [change] = api.useChangeChainMutation();
  return (
    <div className="wide">
      <table className="ledger">
        <thead>
          <tr>
            <th>
              <VisuallyHidden>Star</VisuallyHidden>
            </th>
            <th>Chain</th>
            <th>For</th>
            <th className="number">Steps</th>
            <th className="number">Revision</th>
            <th>Used by</th>
            <th>Last run</th>
            <th>Changed</th>
          </tr>
        </thead>
        <tbody>
          {chains.map(({ id, name, notes, tags, stepCount, revision, hasDraft, changedAt, starred, usedBy }) => (
            <tr key={id}>
              <td className={classes.star}>
                <ActionIcon
                  size="sm"
                  aria-label={`Star ${name}`}
                  aria-pressed={starred}
                  onClick={() => void change({ id, starred: !starred })}
                >
                  {starred ? <IconStarFilled size={15} /> : <IconStar size={15} />}
                </ActionIcon>
              </td>
              <td className="name">
                <Link className="plain" to={`/chains/${id}`}>
                  {name}
                </Link>
                {hasDraft && <span className="advice small"> draft</span>}
              </td>
              <td className="quiet small">
                {notes}
                {tags.map((tag) => (
                  <span key={tag} className={classes.tag}>
                    {tag}
                  </span>
                ))}
              </td>
              <td className="number">{stepCount}</td>
              <td className="number">{revision}</td>
              <td className="small">
                {usedBy.titles.map((title) => title.name).join(', ')}
                {usedBy.runs > 0 && (
                  <span className="quiet">
                    {usedBy.titles.length > 0 && ', '}
                    {usedBy.runs} {usedBy.runs === 1 ? 'run' : 'runs'}
                  </span>
                )}
              </td>
              <td className={`quiet small ${classes.when}`}>{usedBy.lastRunAt && moment(usedBy.lastRunAt)}</td>
              <td className={`quiet small ${classes.when}`}>{moment(changedAt)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
