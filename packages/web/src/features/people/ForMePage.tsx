import type { OpenForMe } from '@tonos/contract';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { clock, moment } from '../../ui/time.ts';
import classes from './People.module.css';

const addressOf = ({ kind, aboutId, runId }: OpenForMe): string => {
  if (kind === 'chain') return `/chains/${aboutId}`;
  return kind === 'item' ? `/runs/${runId}` : `/recordings/${aboutId}`;
};

/** Notes that name who looks at this page, and that nobody has seen to: each leads to what it is about. */
export function ForMePage() {
  const { data, error, refetch } = api.useOpenForMeQuery(undefined, { refetchOnMountOrArgChange: true });
  return (
    <Page title="For you" about="Notes that name you, until somebody has seen to them.">
      {error && <Trouble error={error} retry={refetch} />}
      {data?.length === 0 && <p className="empty">Nobody waits for a word from you.</p>}
      {data && data.length > 0 && (
        <table className="ledger">
          <LedgerHead columns={['About', 'Note', 'By', 'Since']} />
          <tbody>
            {data.map((note) => (
              <tr key={`${note.kind} ${note.id}`}>
                <td className="name">
                  <Link to={addressOf(note)}>{note.aboutName}</Link>
                  {note.atSeconds !== null && <span className="quiet small"> at {clock(note.atSeconds)}</span>}
                  {note.titleName && <span className="quiet small"> of {note.titleName}</span>}
                </td>
                <td className={classes.sentence}>{note.text}</td>
                <td>{note.byName}</td>
                <td className={`quiet small ${classes.when}`}>{moment(note.at)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  );
}
