import { Button } from '@mantine/core';
import { Link, useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { moment } from '../../ui/time.ts';

/** The chains that everybody here shares. */
export function ChainsPage() {
  const { data: chains, error, refetch } = api.useChainsQuery();
  const [add, { isLoading }] = api.useAddChainMutation();
  const navigate = useNavigate();
  const make = async () => {
    const result = await add({ name: freeName((chains ?? []).map(({ name }) => name)), steps: [] });
    if (result.data) void navigate(`/chains/${result.data.id}`);
    else sayError('No chain was made', result.error);
  };
  return (
    <Page
      title="Chains"
      about="Steps in order, shared by everybody. Runs use a revision; work in progress is a draft."
      acts={
        <Button onClick={make} loading={isLoading}>
          New chain
        </Button>
      }
    >
      {error && <Trouble error={error} retry={refetch} />}
      {chains?.length === 0 && (
        <p className="empty">No chain yet. Make one, and add steps by typing what you want of them.</p>
      )}
      {chains && chains.length > 0 && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Chain</th>
              <th>For</th>
              <th className="number">Steps</th>
              <th className="number">Revision</th>
              <th>Draft</th>
              <th>Changed</th>
            </tr>
          </thead>
          <tbody>
            {chains.map(({ id, name, notes, tags, stepCount, revision, hasDraft, changedAt }) => (
              <tr key={id}>
                <td className="name">
                  <Link className="plain" to={`/chains/${id}`}>
                    {name}
                  </Link>
                </td>
                <td className="quiet small">{notes || tags.join(', ')}</td>
                <td className="number">{stepCount}</td>
                <td className="number">{revision}</td>
                <td className="small">{hasDraft ? 'in progress' : ''}</td>
                <td className="quiet small">{moment(changedAt)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  );
}

function freeName(taken: readonly string[]): string {
  let name = 'New chain';
  for (let n = 2; taken.includes(name); n++) name = `New chain ${n}`;
  return name;
}
