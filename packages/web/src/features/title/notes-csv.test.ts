import type { Recording } from '@tonos/contract';
import { notesCsv, notesOf, readNotesCsv } from './notes-csv.ts';

const recording = (name: string, more: Partial<Recording> = {}) =>
  ({
    id: name,
    name,
    givenName: '',
    marks: [],
    measurement: { durationSeconds: 4000 },
    ...more,
  }) as unknown as Recording;

const mark = (id: string, at: number, text?: string, state: 'open' | 'done' = 'open') => ({
  id,
  name: 'Note',
  startSeconds: at,
  endSeconds: at,
  ...(text !== undefined && { note: { text, state, by: '' } }),
});

const one = recording('01 One.wav', {
  marks: [mark('a', 1, 'A page turns', 'done'), mark('b', 2), mark('c', 62.5, '=1+1')],
});
const two = recording('02 Two.wav', { givenName: 'The weir', marks: [mark('d', 3, 'Say "weir", not "wire"')] });

it('lists what is open first; marks without a note are none', () => {
  expect(notesOf([one, two]).map(({ mark: { id } }) => id)).toEqual(['c', 'd', 'a']);
});

it('writes a table that can be read again, and that no spreadsheet takes for a formula', () => {
  const csv = notesCsv(notesOf([one, two]));
  expect(csv.split('\r\n')).toEqual([
    'name,time,text,state,by',
    '01 One.wav,1:02.500,"\'=1+1",open,',
    'The weir,0:03.000,"Say ""weir"", not ""wire""",open,',
    '01 One.wav,0:01.000,A page turns,done,',
  ]);
  const { notes, refused } = readNotesCsv(csv, [one, two]);
  expect(refused).toEqual([]);
  expect(notes.map(({ recording: { name }, seconds, isDone }) => [name, seconds, isDone])).toEqual([
    ['01 One.wav', 62.5, false],
    ['02 Two.wav', 3, false],
    ['01 One.wav', 1, true],
  ]);
});

it('reads a table by itself: names without their ending, other heads, empty lines; and names what fits nothing', () => {
  const { notes, refused } = readNotesCsv(
    '\uFEFFName, Time ,TEXT\n01 one,1:02:03.5,Cough\n\nnobody,1,x\n02 Two.wav,soon,x\n02 Two.wav,2:00:00,x\n02 Two.wav,5,\n',
    [one, two],
  );
  expect(notes).toMatchObject([{ seconds: 3723.5, text: 'Cough', isDone: false }]);
  expect(refused.map(({ reason }) => reason)).toEqual([
    'no recording is called “nobody”',
    '“soon” is no time, such as 1:02:03.5',
    '2:00:00 lies behind the end of 02 Two.wav',
    'there is no text',
  ]);
});
