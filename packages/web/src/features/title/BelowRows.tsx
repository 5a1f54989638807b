import type { Recording, Title } from '@tonos/contract';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { For } from '../../people/For.tsx';
import { moment } from '../../ui/time.ts';
import { AskedKinds } from './AskedKinds.tsx';
import { NoteList } from './NoteList.tsx';
import { OrderList } from './OrderList.tsx';
import { SetList } from './SetList.tsx';
import { Shelf } from './Shelf.tsx';

const LATEST_RUNS = 5;

interface BelowRowsProps {
  titleId: string;
  title: Title | undefined;
  /** All that lies in the title. */
  all: readonly Recording[];
  /** Of them, the voices. */
  recordings: readonly Recording[];
}

/** What a title has besides its recordings' rows: what else lies on its shelf, sets, running orders, notes, its latest runs. */
export function BelowRows({ titleId, title, all, recordings }: BelowRowsProps) {
  const { data: runs = [] } = api.useRunsQuery();
  const latest = runs.filter((run) => run.titleId === titleId).slice(0, LATEST_RUNS);
  return (
    <>
      <Shelf recordings={all.filter(({ kind }) => kind !== 'voice')} />
      <For least="engineer">
        <AskedKinds recordings={recordings} />
      </For>
      <SetList titleId={titleId} recordings={recordings} />
      <OrderList titleId={titleId} />
      <NoteList titleName={title?.name ?? ''} recordings={all} />
      {latest.length > 0 && (
        <p className="small quiet">
          Runs:{' '}
          {latest.map((run, i) => (
            <span key={run.id}>
              {i > 0 && ' \u00b7 '}
              <Link to={`/runs/${run.id}`}>
                {run.targetName}, {moment(run.createdAt)}
              </Link>
            </span>
          ))}
        </p>
      )}
    </>
  );
}
