import type { RunItem } from '@tonos/contract';
import { isSame, pairs } from './beside.ts';

const item = (recordingId: string, sha256: string | null) =>
  ({ recordingId, name: recordingId, output: sha256 && { name: '', sizeBytes: 1, sha256 } }) as RunItem;

it('sets the items of two runs beside each other by their recordings', () => {
  const paired = pairs({ items: [item('b', '1'), item('a', '2')] }, { items: [item('a', '2'), item('c', '3')] });
  expect(paired.map(({ name, first, second }) => [name, !!first, !!second])).toEqual([
    ['b', true, false],
    ['a', true, true],
    ['c', false, true],
  ]);
  expect(paired.map(isSame)).toEqual([false, true, false]);
});

it('calls what was not delivered never the same', () => {
  expect(pairs({ items: [item('a', null)] }, { items: [item('a', null)] }).map(isSame)).toEqual([false]);
});
