import type { Recording } from '@tonos/contract';
import { arrivalText } from './arrival-text.ts';

const recordings = (...hashes: string[]) => hashes.map((sha256) => ({ sha256 })) as Recording[];

it.each<[string[], string[], string]>([
  [['a'], [], '1 file has come in.'],
  [['a', 'b'], ['c'], '2 files have come in.'],
  [
    ['a'],
    ['a'],
    '1 file has come in. It holds the same sound as a recording that is here already; the file is stored once.',
  ],
  [
    ['a', 'b', 'b'],
    ['c'],
    '3 files have come in. 1 of them holds a sound that is here already; each file is stored once.',
  ],
  [
    ['a', 'b'],
    ['a', 'b'],
    '2 files have come in. 2 of them hold a sound that is here already; each file is stored once.',
  ],
])('%j beside %j: %s', (added, known, text) => {
  expect(arrivalText(recordings(...added), recordings(...known))).toBe(text);
});
