import type { Title, TitleStanding } from '@tonos/contract';
import { Link } from 'react-router';
import { StandingCounts } from '../../ui/StandingCounts.tsx';
import { type LedgerColumn, sortedBy } from '../../ui/table/use-ledger-table.ts';
import { clock, moment } from '../../ui/time.ts';
import { waiting } from './sort-titles.ts';
import classes from './TitlesPage.module.css';

const NUMBER = { className: 'number' };
const MOST_FIRST = { sortDescFirst: true };

/** Of what is delivered, the title with most to do first; of runs, the last one. */
export const titleColumns = (standingOf: ReadonlyMap<string, TitleStanding>): LedgerColumn<Title>[] => [
  sortedBy('name', 'Title', ({ name }) => name, {
    meta: { cellClass: 'name' },
    cell: ({ row }) => <NameOf title={row.original} />,
  }),
  sortedBy('kind', 'Kind', ({ kind }) => kind, { meta: { cellClass: 'quiet' }, cell: ({ getValue }) => getValue() }),
  sortedBy('recordings', 'Recordings', ({ recordingCount }) => recordingCount, {
    ...MOST_FIRST,
    meta: NUMBER,
    cell: ({ getValue }) => getValue(),
  }),
  sortedBy('length', 'Length', ({ totalSeconds }) => totalSeconds, {
    ...MOST_FIRST,
    meta: NUMBER,
    cell: ({ row }) => clock(row.original.totalSeconds),
  }),
  sortedBy('delivered', 'Delivered', ({ id }) => waiting(standingOf.get(id)), {
    ...MOST_FIRST,
    cell: ({ row }) => {
      const standing = standingOf.get(row.original.id);
      return standing && <StandingCounts counts={standing.counts} />;
    },
  }),
  sortedBy('warnings', 'With warnings', ({ warningCount }) => warningCount, {
    ...MOST_FIRST,
    meta: NUMBER,
    cell: ({ getValue }) => getValue(),
  }),
  sortedBy('last-run', 'Last run', ({ id }) => standingOf.get(id)?.lastRunAt, {
    ...MOST_FIRST,
    meta: { cellClass: 'small' },
    cell: ({ row }) => <LastRun standing={standingOf.get(row.original.id)} />,
  }),
];

function NameOf({ title: { id, name, details } }: { title: Title }) {
  return (
    <>
      <Link className="plain" to={`/titles/${id}`}>
        {name}
      </Link>
      {details.authors && <span className={`quiet small ${classes.by}`}>{details.authors}</span>}
    </>
  );
}

function LastRun({ standing }: { standing: TitleStanding | undefined }) {
  if (!standing?.lastRunAt) return <span className="quiet">none</span>;
  return (
    <Link className="plain" to={`/runs/${standing.lastRunId}`}>
      {moment(standing.lastRunAt)}
    </Link>
  );
}
