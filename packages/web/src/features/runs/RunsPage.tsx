import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { Page } from '../../ui/Page.tsx';
import { ThrowAwayButton } from '../../ui/ThrowAwayButton.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { moment } from '../../ui/time.ts';

/** Every batch, the newest first. */
export function RunsPage() {
  const { data: runs, error, refetch } = api.useRunsQuery();
  return (
    <Page title="Runs" about="Batches: recordings, a chain’s revision, a target.">
      {error && <Trouble error={error} retry={refetch} />}
      {runs?.length === 0 && <p className="empty">No run yet. Open a title, choose recordings and press Run.</p>}
      {runs && runs.length > 0 && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Title</th>
              <th>Chain</th>
              <th>Target</th>
              <th className="number">Within</th>
              <th className="number">Off target</th>
              <th className="number">Failed</th>
              <th className="number">Waiting</th>
              <th>State</th>
              <th>Started</th>
              <th aria-label="Acts" />
            </tr>
          </thead>
          <tbody>
            {runs.map(({ id, titleName, chainName, revision, targetName, counts, status, createdAt }) => (
              <tr key={id}>
                <td className="name">
                  <Link className="plain" to={`/runs/${id}`}>
                    {titleName}
                  </Link>
                </td>
                <td>
                  {chainName} <span className="quiet">revision {revision}</span>
                </td>
                <td>{targetName}</td>
                <td className="number">{counts.within}</td>
                <td className={`number ${counts['off-target'] ? 'verdict-over' : ''}`}>{counts['off-target']}</td>
                <td className={`number ${counts.failed ? 'verdict-over' : ''}`}>{counts.failed}</td>
                <td className="number">{counts.queued + counts.working}</td>
                <td>{status}</td>
                <td className="quiet small">{moment(createdAt)}</td>
                <td align="right">
                  <ThrowAwayButton
                    what={{ kind: 'run', id }}
                    name={`The run of ${titleName}`}
                    disabled={counts.queued + counts.working > 0}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  );
}
