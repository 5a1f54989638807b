import type { Outing } from '@tonos/contract';
import { placeText, stateText } from './outing-texts.ts';

const outing = (part: Partial<Outing>) =>
  ({ state: 'out', note: '', laidIn: false, isOlder: false, ...part }) as Outing;

it('says where sound goes out', () => {
  expect(placeText({ chainName: null, stepTitle: null })).toBe('before the chain');
  expect(placeText({ chainName: 'Close', stepTitle: 'Gain' })).toBe('after Gain in Close');
});

it.each<[Partial<Outing>, string, boolean]>([
  [{ state: 'making' }, 'being written', false],
  [{ state: 'out' }, 'outside', false],
  [{ state: 'out', isOlder: true }, 'outside; what it was made from is another now', true],
  [{ state: 'coming' }, 'coming back', false],
  [{ state: 'refused', note: 'is digital silence' }, 'came back, and can\u2019t be laid in: is digital silence', true],
  [{ state: 'back', laidIn: true }, 'laid in', false],
  [{ state: 'back', laidIn: true, note: '+0.500 s in length' }, 'laid in: +0.500 s in length', false],
  [{ state: 'back', laidIn: true, isOlder: true }, 'laid in; older than what it stands for', true],
  [{ state: 'back' }, 'came back, and was taken out again', false],
  [{ state: 'failed', note: 'the disk is full' }, 'could not be written: the disk is full', true],
])('%j: %s', (part, text, isBad) => {
  expect(stateText(outing(part))).toEqual({ text, isBad });
});
