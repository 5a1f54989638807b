import { Button, Checkbox, FileButton } from '@mantine/core';
import { nanoid } from '@reduxjs/toolkit';
import type { Recording } from '@tonos/contract';
import { memo } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { say, sayError } from '../../ui/notify.ts';
import { clock } from '../../ui/time.ts';
import classes from './NoteList.module.css';
import { notesCsv, notesOf, type PlacedNote, readNotesCsv } from './notes-csv.ts';

interface NoteListProps {
  titleName: string;
  recordings: readonly Recording[];
}

/** What people have to say of places in a title's recordings: seen to one after the other, in and out as CSV. */
export const NoteList = memo(({ titleName, recordings }: NoteListProps) => {
  const [setMark] = api.useSetMarkMutation();
  const notes = notesOf(recordings);
  if (!recordings.length) return null;
  const put = async ({ recording, mark: { id: markId, ...mark } }: PlacedNote) => {
    const { error } = await setMark({ id: recording.id, markId, ...mark });
    if (error) sayError('The note was not kept', error);
    return !error;
  };
  const bringIn = async (file: File | null) => {
    if (!file) return;
    const { notes: read, refused } = readNotesCsv(await file.text(), recordings);
    let kept = 0;
    for (const { recording, seconds, text, isDone } of read) {
      const note = { text, state: isDone ? ('done' as const) : ('open' as const), by: '' };
      const mark = { id: nanoid(10), name: 'Note', startSeconds: seconds, endSeconds: seconds, note };
      if (await put({ recording, mark })) kept++;
    }
    say(`${kept} ${kept === 1 ? 'note was' : 'notes were'} brought in.`);
    if (refused.length)
      sayError(
        `${file.name}: ${refused.length} ${refused.length === 1 ? 'line' : 'lines'} left out`,
        new Error(refused.map(({ line, reason }) => `Line ${line}: ${reason}.`).join(' ')),
      );
  };
  const giveOut = () => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([notesCsv(notes)], { type: 'text/csv' }));
    link.download = `${titleName} notes.csv`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const open = notes.filter(({ mark }) => mark.note.state === 'open').length;
  return (
    <section aria-label="Notes" className={classes.notes}>
      <div className={classes.head}>
        <h2>Notes</h2>
        <span className="quiet small">
          {notes.length ? `${open} open of ${notes.length}` : 'Press w while you listen to a recording to make one.'}
        </span>
        <FileButton accept="text/csv,.csv" onChange={(file) => void bringIn(file)}>
          {(props) => (
            <Button {...props} size="compact-xs" variant="default">
              Bring in CSV
            </Button>
          )}
        </FileButton>
        {notes.length > 0 && (
          <Button size="compact-xs" variant="default" onClick={giveOut}>
            Save as CSV
          </Button>
        )}
      </div>
      {notes.length > 0 && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Done</th>
              <th>Recording</th>
              <th className="number">At</th>
              <th>Note</th>
            </tr>
          </thead>
          <tbody>
            {notes.map((one) => {
              const { recording, mark } = one;
              const called = recording.givenName || recording.name;
              return (
                <tr key={mark.id}>
                  <td>
                    <Checkbox
                      size="xs"
                      aria-label={`Done: ${mark.note.text}`}
                      checked={mark.note.state === 'done'}
                      onChange={(event) => {
                        const state = event.currentTarget.checked ? 'done' : 'open';
                        void put({ recording, mark: { ...mark, note: { ...mark.note, state } } });
                      }}
                    />
                  </td>
                  <td className="name">
                    <Link className="plain" to={`/recordings/${recording.id}`}>
                      {called}
                    </Link>
                  </td>
                  <td className="number">{clock(mark.startSeconds, 1)}</td>
                  <td className={mark.note.state === 'done' ? 'quiet' : undefined}>{mark.note.text}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
});
