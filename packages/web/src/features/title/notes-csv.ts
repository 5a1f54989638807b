import type { Mark, Recording } from '@tonos/contract';
import Papa from 'papaparse';
import { clock, readClock } from '../../ui/time.ts';

/** A note on a place of a recording. */
export interface PlacedNote {
  recording: Recording;
  mark: Mark & { note: NonNullable<Mark['note']> };
}

const isOpen = ({ mark }: PlacedNote) => mark.note.state === 'open';

/** The notes of some recordings: what is open first, in the order of the title. */
export function notesOf(recordings: readonly Recording[]): PlacedNote[] {
  const all = recordings.flatMap((recording) =>
    recording.marks.flatMap((mark) => (mark.note ? [{ recording, mark: { ...mark, note: mark.note } }] : [])),
  );
  return [...all.filter(isOpen), ...all.filter((note) => !isOpen(note))];
}

const calledOf = ({ givenName, name }: Recording) => givenName || name;

/** As a table that a spreadsheet opens: name, time, text, state. A text that would be a formula there is none. */
export const notesCsv = (notes: readonly PlacedNote[]): string =>
  Papa.unparse(
    {
      fields: ['name', 'time', 'text', 'state', 'by'],
      data: notes.map(({ recording, mark }) => [
        calledOf(recording),
        clock(mark.startSeconds, 3),
        mark.note.text,
        mark.note.state,
        mark.note.by,
      ]),
    },
    { escapeFormulae: true, newline: '\r\n' },
  );

export interface ReadNote {
  recording: Recording;
  seconds: number;
  text: string;
  isDone: boolean;
}

/** Why a line of a table is no note. */
export interface RefusedLine {
  line: number;
  reason: string;
}

const bare = (name: string) => name.replace(/\.[^.]*$/, '').toLowerCase();

/** Reads `name,time,text`, and `state` where it is there; lines that fit no recording are named. */
export function readNotesCsv(
  csv: string,
  recordings: readonly Recording[],
): { notes: ReadNote[]; refused: RefusedLine[] } {
  const { data } = Papa.parse<Record<string, string>>(csv.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (head) => head.trim().toLowerCase(),
  });
  const notes: ReadNote[] = [];
  const refused: RefusedLine[] = [];
  data.forEach((row, i) => {
    const said = { name: row.name?.trim() ?? '', time: row.time?.trim() ?? '', text: row.text?.trim() ?? '' };
    const recording =
      recordings.find((one) => one.name === said.name || one.givenName === said.name) ??
      recordings.find((one) => bare(one.name) === bare(said.name));
    const seconds = readClock(said.time);
    const length = recording?.measurement?.durationSeconds ?? Number.POSITIVE_INFINITY;
    const reason = !recording
      ? `no recording is called “${said.name}”`
      : seconds === null
        ? `“${said.time}” is no time, such as 1:02:03.5`
        : seconds > length
          ? `${said.time} lies behind the end of ${said.name}`
          : !said.text && 'there is no text';
    // the head is the first line
    if (reason) refused.push({ line: i + 2, reason });
    else
      notes.push({
        recording: recording!,
        seconds: seconds!,
        text: said.text.slice(0, 2000),
        isDone: row.state?.trim() === 'done',
      });
  });
  return { notes, refused };
}
