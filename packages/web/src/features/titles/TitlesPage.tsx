import { Button, Switch } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useMemo, useState } from 'react';
import { api } from '../../api/api.ts';
import { For } from '../../people/For.tsx';
import { Page } from '../../ui/Page.tsx';
import { ShowOnly } from '../../ui/ShowOnly.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerTable } from '../../ui/table/LedgerTable.tsx';
import { NewTitleForm } from './NewTitleForm.tsx';
import { shownTitles } from './sort-titles.ts';
import classes from './TitlesPage.module.css';
import { titleColumns } from './title-columns.tsx';

const LAST_RUN_FIRST = [{ id: 'last-run', desc: true }];

/** Every show and book: what there is in it, and how much of it was delivered. */
export function TitlesPage() {
  const { data: titles, error, refetch } = api.useTitlesQuery();
  const { data: standings } = api.useStandingsQuery();
  const [adding, { open, close }] = useDisclosure(false);
  const [typed, setTyped] = useState('');
  const [archived, setArchived] = useState(false);
  const shown = useMemo(() => shownTitles(titles ?? [], { typed, archived }), [titles, typed, archived]);
  const columns = useMemo(() => titleColumns(new Map(standings?.map((one) => [one.titleId, one]))), [standings]);
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
            {(hasArchive || archived) && (
              <Switch
                size="xs"
                label="Archived ones"
                checked={archived}
                onChange={(event) => setArchived(event.currentTarget.checked)}
              />
            )}
          </div>
          <LedgerTable rows={shown} columns={columns} first={LAST_RUN_FIRST} />
          {shown.length === 0 && <p className="quiet">There is none of these.</p>}
        </>
      )}
      <NewTitleForm opened={adding} onClose={close} />
    </Page>
  );
}
