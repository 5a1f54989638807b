import { Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import type { Recording, RecordingSet, SetMember } from '@tonos/contract';
import { figure } from '@tonos/core';
import { memo, useMemo } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { TimeField } from '../../ui/TimeField.tsx';
import { findSessions } from './find-sessions.ts';
import classes from './SetList.module.css';

interface SetListProps {
  titleId: string;
  recordings: readonly Recording[];
}

/** The linked sets of a title: who lies where on the time that they share, to be corrected by hand and unlinked. */
export const SetList = memo(({ titleId, recordings }: SetListProps) => {
  const { data: sets } = api.useSetsQuery(titleId);
  const { asked, refuse } = useAskedSessions(recordings, sets);
  if (!sets?.length && !asked.length) return null;
  return (
    <section aria-label="Linked sets" className={classes.sets}>
      <h2>Linked sets</h2>
      <p className="quiet small">
        Recordings of one session. They are run together: what changes the time of one changes all.
      </p>
      {asked.map((session) => (
        <AskedSession
          key={session.join()}
          titleId={titleId}
          session={session}
          recordings={recordings}
          onNo={() => refuse(session)}
        />
      ))}
      {sets?.map((set) => (
        <SetTable key={set.id} set={set} recordings={recordings} />
      ))}
    </section>
  );
});

/** What this browser was told to be no session, by the ids of its recordings. */
const REFUSED = 'tonos.no-session';

/** Sessions that people are to be asked about: found among what is not linked, and not refused here. */
function useAskedSessions(recordings: readonly Recording[], sets: readonly RecordingSet[] | undefined) {
  const [refused, setRefused] = useLocalStorage<string[]>({ key: REFUSED, defaultValue: [] });
  const asked = useMemo(() => {
    if (!sets) return [];
    const linked = new Set(sets.flatMap(({ members }) => members.map(({ recordingId }) => recordingId)));
    return findSessions(recordings.filter(({ id }) => !linked.has(id))).filter(
      (session) => !refused.includes(session.join()),
    );
  }, [recordings, sets, refused]);
  return { asked, refuse: (session: readonly string[]) => setRefused([...refused, session.join()]) };
}

interface AskedSessionProps {
  titleId: string;
  session: readonly string[];
  recordings: readonly Recording[];
  onNo(): void;
}

/** Offers to link recordings that seem to be of one session. */
function AskedSession({ titleId, session, recordings, onNo }: AskedSessionProps) {
  const [link, { isLoading }] = api.useMakeSetMutation();
  const names = session.map((id) => {
    const { givenName, name } = recordings.find((one) => one.id === id)!;
    return `\u201c${givenName || name}\u201d`;
  });
  const make = async () => {
    const { error } = await link({ titleId, recordingIds: [...session] });
    if (error) sayError('They were not linked', error);
  };
  return (
    <p className={classes.asked} role="status">
      {names.slice(0, -1).join(', ')} and {names.at(-1)} seem to be of one session.
      <Button size="compact-xs" variant="default" loading={isLoading} onClick={() => void make()}>
        Link them
      </Button>
      <Button size="compact-xs" variant="subtle" onClick={onNo}>
        They are not
      </Button>
    </p>
  );
}

function SetTable({ set, recordings }: { set: RecordingSet; recordings: readonly Recording[] }) {
  const [change] = api.useChangeSetMutation();
  const [remove] = api.useRemoveSetMutation();
  const nameOf = (id: string) => {
    const recording = recordings.find((one) => one.id === id);
    return recording ? recording.givenName || recording.name : 'not in this title';
  };
  const lay = async (member: SetMember, part: Partial<SetMember>) => {
    const members = set.members.map((one) => (one === member ? { ...one, ...part, confidence: 1 } : one));
    const { error } = await change({ id: set.id, members });
    if (error) sayError('The set was not changed', error);
  };
  const unlink = async () => {
    const { error } = await remove(set.id);
    if (error) sayError('The set was not unlinked', error);
  };
  return (
    <table className="ledger">
      <thead>
        <tr>
          <th>Recording</th>
          <th className="number">Begins at s</th>
          <th className="number">Clock off by ppm</th>
          <th className="number">Confidence</th>
          <th className={classes.act}>
            <Button size="compact-xs" variant="subtle" onClick={() => void unlink()}>
              Unlink
            </Button>
          </th>
        </tr>
      </thead>
      <tbody>
        {set.members.map((member, i) => (
          <tr key={member.recordingId}>
            <td className="name">
              <Link className="plain" to={`/recordings/${member.recordingId}`}>
                {nameOf(member.recordingId)}
              </Link>
            </td>
            <td className="number">
              {i === 0 ? (
                figure(member.offsetSeconds, 3)
              ) : (
                <TimeField
                  label={`Begin of ${nameOf(member.recordingId)}`}
                  seconds={member.offsetSeconds}
                  min={-1e6}
                  set={(offsetSeconds) => void lay(member, { offsetSeconds })}
                />
              )}
            </td>
            <td className="number">{figure(member.driftPpm, 1)}</td>
            <td className="number">{i === 0 ? '\u2013' : figure(member.confidence, 2)}</td>
            <td />
          </tr>
        ))}
      </tbody>
    </table>
  );
}
