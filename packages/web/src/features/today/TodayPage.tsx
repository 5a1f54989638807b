import type { Today } from '@tonos/contract';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { Page } from '../../ui/Page.tsx';
import { sizeText } from '../../ui/size-text.ts';
import { Trouble } from '../../ui/Trouble.tsx';
import { clock, timeLeft, timeOfDay } from '../../ui/time.ts';
import { byRun } from './by-run.ts';
import classes from './TodayPage.module.css';

/** So many items of a run are named here; its board has them all. */
const MOST_NAMED = 6;
const MOST_NOTES = 12;
/** Asked again even where no event tells of anything: the disk fills by itself. */
const LOOK_EVERY_MS = 60_000;

/** What waits for somebody, over all titles; each row leads to its act. */
export function TodayPage() {
  const { data, error, refetch } = api.useTodayQuery(undefined, {
    pollingInterval: LOOK_EVERY_MS,
    skipPollingIfUnfocused: true,
    refetchOnMountOrArgChange: true,
  });
  return (
    <Page
      title="Today"
      about={data && `What waits for somebody, over all titles. Looked at ${timeOfDay(data.checkedAt)}.`}
    >
      {error && <Trouble error={error} retry={refetch} />}
      {data && <Waiting today={data} />}
    </Page>
  );
}

function Waiting({ today }: { today: Today }) {
  const { runs, items, unreadable, arrivals, notes, disk } = today;
  const waits = [runs, items, unreadable, arrivals, notes].some(({ length }) => length > 0) || disk.isLow;
  if (!waits)
    return (
      <p className="empty">
        Nothing waits for you: every delivery is within its target or accepted, and all that came in can be read.{' '}
        <Link to="/titles">To the titles</Link>
      </p>
    );
  return (
    <>
      {runs.length > 0 && (
        <Part name="Under way">
          {runs.map((run) => (
            <tr key={run.id}>
              <td className={`name ${classes.where}`}>
                <Link className="plain" to={`/runs/${run.id}`}>
                  {run.titleName}
                </Link>
              </td>
              <td className="small">
                {run.chainName}, revision {run.revision} {'\u2192'} {run.targetName}
              </td>
              <td className={classes.bar}>
                <div
                  className={classes.whole}
                  role="progressbar"
                  aria-label={`Run of ${run.titleName}`}
                  aria-valuenow={Math.round(100 * run.share)}
                  aria-valuemin={0}
                  aria-valuemax={100}
                >
                  <div style={{ width: `${100 * run.share}%` }} />
                </div>
              </td>
              <td className={`quiet small ${classes.act}`}>
                {run.paused ? 'paused' : run.secondsLeft === null ? run.status : timeLeft(run.secondsLeft)}
              </td>
            </tr>
          ))}
        </Part>
      )}
      {items.length > 0 && (
        <Part
          name="To settle"
          about="Off target or failed at the last try: mend them, render them again, or accept them with a reason."
        >
          {byRun(items).map(({ runId, titleName, items: own }) =>
            own.slice(0, MOST_NAMED + 1).map((item, i) => (
              <tr key={item.itemId}>
                <td className={`name ${classes.where}`}>{i === 0 && titleName}</td>
                {i === MOST_NAMED ? (
                  <td colSpan={3}>
                    <Link to={`/runs/${runId}?show=exceptions`}>and {own.length - MOST_NAMED} more</Link>
                  </td>
                ) : (
                  <>
                    <td>{item.name}</td>
                    <td className="verdict-over">{item.sentence}</td>
                    <td className={classes.act}>
                      <Link to={`/runs/${runId}?show=exceptions`} aria-label={`To the board: ${item.name}`}>
                        to the board
                      </Link>
                    </td>
                  </>
                )}
              </tr>
            )),
          )}
        </Part>
      )}
      {unreadable.length > 0 && (
        <Part
          name="Unreadable"
          about="These came in and are no sound that can be read. Bring them in again, or throw them away."
        >
          {unreadable.map(({ recordingId, titleId, titleName, name, error }) => (
            <tr key={recordingId}>
              <td className={`name ${classes.where}`}>{titleName}</td>
              <td>{name}</td>
              <td className="verdict-over">{error?.message}</td>
              <td className={classes.act}>
                <Link to={`/titles/${titleId}`} aria-label={`To the title: ${name}`}>
                  to the title
                </Link>
              </td>
            </tr>
          ))}
        </Part>
      )}
      {arrivals.length > 0 && (
        <Part name="Arrived">
          {arrivals.map(({ titleId, titleName, recordingIds, sentence }) => (
            <tr key={titleId}>
              <td className={`name ${classes.where}`}>{titleName}</td>
              <td>
                {recordingIds.length} {recordingIds.length === 1 ? 'recording' : 'recordings'} from its watched folder
              </td>
              <td className="small">{sentence}</td>
              <td className={classes.act}>
                <Link to={`/titles/${titleId}`}>to the title</Link>
              </td>
            </tr>
          ))}
        </Part>
      )}
      {notes.length > 0 && (
        <Part name="Open notes">
          {notes.slice(0, MOST_NOTES).map(({ markId, recordingId, titleName, name, atSeconds, text }) => (
            <tr key={markId}>
              <td className={`name ${classes.where}`}>{titleName}</td>
              <td>
                {name}, {clock(atSeconds, 1)}
              </td>
              <td>{text}</td>
              <td className={classes.act}>
                <Link
                  to={`/recordings/${recordingId}`}
                  aria-label={`To the recording: ${name}, ${clock(atSeconds, 1)}`}
                >
                  to the recording
                </Link>
              </td>
            </tr>
          ))}
          {notes.length > MOST_NOTES && (
            <tr>
              <td />
              <td colSpan={3} className="quiet">
                and {notes.length - MOST_NOTES} more, on their titles
              </td>
            </tr>
          )}
        </Part>
      )}
      {disk.isLow && (
        <Part name="Disk">
          <tr>
            <td className={`name ${classes.where}`}>{sizeText(disk.freeBytes)} free</td>
            <td colSpan={2}>
              Long runs may be refused.
              {disk.trashBytes > 0 && ` Emptying the trash gives ${sizeText(disk.trashBytes)}.`}
            </td>
            <td className={classes.act}>
              <Link to={disk.trashBytes > 0 ? '/trash' : '/storage'}>make room</Link>
            </td>
          </tr>
        </Part>
      )}
    </>
  );
}

function Part({ name, about, children }: { name: string; about?: string; children: ReactNode }) {
  return (
    <section className={classes.part} aria-label={name}>
      <h2>{name}</h2>
      {about && <p className="quiet small">{about}</p>}
      <table className="ledger">
        <tbody>{children}</tbody>
      </table>
    </section>
  );
}
