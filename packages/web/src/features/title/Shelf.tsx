import { Select, TextInput, VisuallyHidden } from '@mantine/core';
import type { Recording, RecordingKind } from '@tonos/contract';
import { figure, type Measurement } from '@tonos/core';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { PlayMark } from '../../listening/PlayMark.tsx';
import { sourceOf } from '../../listening/source-of.ts';
import { sayError } from '../../ui/notify.ts';
import { TimeField } from '../../ui/TimeField.tsx';
import { clock } from '../../ui/time.ts';
import classes from './NoteList.module.css';
import { KINDS } from './recording-kinds.ts';

const listenedOf = ({ id, name, givenName }: Recording, measurement: Measurement) => ({
  name: givenName || name,
  source: sourceOf(id, measurement),
  result: null,
});

/** The music and the sounds of a title: no chapters, and nothing that a chain is run over; running orders of all titles can use them. */
export function Shelf({ recordings }: { recordings: readonly Recording[] }) {
  const [change] = api.useChangeRecordingMutation();
  if (!recordings.length) return null;
  const put = async (id: string, part: Partial<Pick<Recording, 'kind' | 'licence' | 'loop'>>) => {
    const { error } = await change({ id, ...part });
    if (error) sayError('It was not changed', error);
  };
  return (
    <section aria-label="Music and sounds" className={classes.notes}>
      <div className={classes.head}>
        <h2>Music and sounds</h2>
        <span className="quiet small">Running orders of all titles can use them; no chain is run over them.</span>
      </div>
      <table className="ledger">
        <thead>
          <tr>
            <th>
              <VisuallyHidden>Listen</VisuallyHidden>
            </th>
            <th>Recording</th>
            <th>Kind</th>
            <th className="number">Length</th>
            <th className="number">Loudness LUFS</th>
            <th className="number">Repeated from s</th>
            <th className="number">to s</th>
            <th>May be used</th>
          </tr>
        </thead>
        <tbody>
          {recordings.map((recording) => {
            const { id, name, givenName, kind, licence, loop, measurement } = recording;
            const called = givenName || name;
            const seconds = measurement?.durationSeconds;
            const setLoop = (part: Partial<NonNullable<Recording['loop']>>) => {
              const next = { startSeconds: 0, endSeconds: seconds ?? 0, ...loop, ...part };
              void put(id, { loop: next.endSeconds > next.startSeconds ? next : null });
            };
            return (
              <tr key={id}>
                <td>{measurement && <PlayMark listened={listenedOf(recording, measurement)} />}</td>
                <td className="name">
                  <Link className="plain" to={`/recordings/${id}`}>
                    {called}
                  </Link>
                </td>
                <td>
                  <Select
                    size="xs"
                    w={104}
                    aria-label={`Kind of ${called}`}
                    allowDeselect={false}
                    data={KINDS}
                    value={kind}
                    onChange={(value) => value && void put(id, { kind: value as RecordingKind })}
                  />
                </td>
                <td className="number">{seconds === undefined ? '\u2013' : clock(seconds)}</td>
                <td className="number">
                  {measurement?.integratedLufs == null ? '\u2013' : figure(measurement.integratedLufs)}
                </td>
                <td className="number">
                  <TimeField
                    label={`Where ${called} is repeated from`}
                    decimals={2}
                    seconds={loop?.startSeconds ?? 0}
                    set={(startSeconds) => setLoop({ startSeconds })}
                  />
                </td>
                <td className="number">
                  <TimeField
                    label={`Where ${called} is repeated to`}
                    decimals={2}
                    seconds={loop?.endSeconds ?? seconds ?? 0}
                    set={(endSeconds) => setLoop({ endSeconds })}
                  />
                </td>
                <td>
                  <TextInput
                    key={licence}
                    size="xs"
                    variant="unstyled"
                    aria-label={`Under what ${called} may be used`}
                    placeholder="licence, who made it"
                    maxLength={2000}
                    defaultValue={licence}
                    onBlur={(event) => {
                      const typed = event.currentTarget.value.trim();
                      if (typed !== licence) void put(id, { licence: typed });
                    }}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
