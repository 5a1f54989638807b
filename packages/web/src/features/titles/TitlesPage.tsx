import { Button } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { clock } from '../../ui/time.ts';
import { NewTitleForm } from './NewTitleForm.tsx';

/** Every show and book, and what there is in it. */
export function TitlesPage() {
  const { data: titles, error, refetch } = api.useTitlesQuery();
  const { data: runs } = api.useRunsQuery();
  const [adding, { open, close }] = useDisclosure(false);
  return (
    <Page
      title="Titles"
      about="Shows and books: each holds its recordings."
      acts={<Button onClick={open}>New title</Button>}
    >
      {error && <Trouble error={error} retry={refetch} />}
      {titles?.length === 0 && (
        <p className="empty">No title yet. Make one for a show or a book, then drop its recordings on it.</p>
      )}
      {titles && titles.length > 0 && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Title</th>
              <th>Kind</th>
              <th className="number">Recordings</th>
              <th className="number">Length</th>
              <th className="number">With warnings</th>
              <th>Last run</th>
            </tr>
          </thead>
          <tbody>
            {titles.map(({ id, name, kind, recordingCount, totalSeconds, warningCount }) => {
              const run = runs?.find(({ titleId }) => titleId === id);
              return (
                <tr key={id}>
                  <td className="name">
                    <Link className="plain" to={`/titles/${id}`}>
                      {name}
                    </Link>
                  </td>
                  <td className="quiet">{kind}</td>
                  <td className="number">{recordingCount}</td>
                  <td className="number">{clock(totalSeconds)}</td>
                  <td className="number">{warningCount}</td>
                  <td>
                    {run ? (
                      <Link className="plain" to={`/runs/${run.id}`}>
                        {run.targetName}: {run.counts.within} within, {run.counts['off-target']} off target
                        {run.counts.failed ? `, ${run.counts.failed} failed` : ''}
                      </Link>
                    ) : (
                      <span className="quiet">none</span>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <NewTitleForm opened={adding} onClose={close} />
    </Page>
  );
}
