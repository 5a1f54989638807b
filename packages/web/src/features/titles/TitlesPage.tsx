import { Button, Select, Switch } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { For } from '../../people/For.tsx';
import { Page } from '../../ui/Page.tsx';
import { ShowOnly } from '../../ui/ShowOnly.tsx';
import { StandingCounts } from '../../ui/StandingCounts.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { clock, moment } from '../../ui/time.ts';
import { NewTitleForm } from './NewTitleForm.tsx';
import { shownTitles, type TitleSorting } from './sort-titles.ts';
import classes from './TitlesPage.module.css';

const SORTINGS: readonly { value: TitleSorting; label: string }[] = [
  { value: 'last-run', label: 'Last run first' },
  { value: 'waiting', label: 'Most to do first' },
  { value: 'name', label: 'By name' },
  { value: 'length', label: 'Longest first' },
];

/** Every show and book: what there is in it, and how much of it was delivered. */
export function TitlesPage() {
  const { data: titles, error, refetch } = api.useTitlesQuery();
  const { data: standings } = api.useStandingsQuery();
  const [adding, { open, close }] = useDisclosure(false);
  const [typed, setTyped] = useState('');
  const [archived, setArchived] = useState(false);
  const [sorting, setSorting] = useState<TitleSorting>('last-run');
  const shown = useMemo(
    () => shownTitles(titles ?? [], standings ?? [], { typed, archived, sorting }),
    [titles, standings, typed, archived, sorting],
  );
  const standingOf = useMemo(() => new Map(standings?.map((one) => [one.titleId, one])), [standings]);
  const hasArchive = titles?.some((title) => title.archived) ?? false;
  return (
    <Page
      title="Titles"
      about="Shows and books: each holds its recordings."
      acts={
        <For least="engineer">
          <Button onClick={open}>New title</Button>
        </For>
      }
    >
      {error && <Trouble error={error} retry={refetch} />}
      {titles?.length === 0 && (
        <p className="empty">No title yet. Make one for a show or a book, then drop its recordings on it.</p>
      )}
      {titles && titles.length > 0 && (
        <>
          <div className={classes.tools}>
            <ShowOnly words="a name, an author, a series" value={typed} onChange={setTyped} />
            <Select
              size="xs"
              aria-label="Order"
              allowDeselect={false}
              data={SORTINGS}
              value={sorting}
              onChange={(value) => setSorting(value as TitleSorting)}
            />
            {(hasArchive || archived) && (
              <Switch
                size="xs"
                label="Archived ones"
                checked={archived}
                onChange={(event) => setArchived(event.currentTarget.checked)}
              />
            )}
          </div>
          <table className="ledger">
            <thead>
              <tr>
                <th>Title</th>
                <th>Kind</th>
                <th className="number">Recordings</th>
                <th className="number">Length</th>
                <th>Delivered</th>
                <th className="number">With warnings</th>
                <th>Last run</th>
              </tr>
            </thead>
            <tbody>
              {shown.map(({ id, name, kind, details, recordingCount, totalSeconds, warningCount }) => {
                const standing = standingOf.get(id);
                return (
                  <tr key={id}>
                    <td className="name">
                      <Link className="plain" to={`/titles/${id}`}>
                        {name}
                      </Link>
                      {details.authors && <span className={`quiet small ${classes.by}`}>{details.authors}</span>}
                    </td>
                    <td className="quiet">{kind}</td>
                    <td className="number">{recordingCount}</td>
                    <td className="number">{clock(totalSeconds)}</td>
                    <td>{standing && <StandingCounts counts={standing.counts} />}</td>
                    <td className="number">{warningCount}</td>
                    <td className="small">
                      {standing?.lastRunAt ? (
                        <Link className="plain" to={`/runs/${standing.lastRunId}`}>
                          {moment(standing.lastRunAt)}
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
          {shown.length === 0 && <p className="quiet">There is none of these.</p>}
        </>
      )}
      <NewTitleForm opened={adding} onClose={close} />
    </Page>
  );
}
