import { adjustChain, alikeAdjusted, mergeAdjustments } from './adjustments.ts';
import type { ChainStep } from './chain-file.ts';

const step = (kind: string, settings = {}, id?: string): ChainStep => ({ id, kind, on: true, mix: 1, settings });
const CHAIN = [step('high-pass', { frequencyHz: 80 }, 'hp'), step('gain', { gainDb: 3 })];

it('changes only what it names, in one step', () => {
  const { steps, misfits } = adjustChain(CHAIN, [
    { id: 'hp', settings: { frequencyHz: 110 } },
    { id: 'step-2', on: false, settings: {} },
  ]);
  expect(misfits).toEqual([]);
  expect(steps).toEqual([step('high-pass', { frequencyHz: 110 }, 'hp'), { ...CHAIN[1], on: false }]);
  expect(CHAIN[0].settings).toEqual({ frequencyHz: 80 });
});

it('says where it no longer fits, and then leaves the chain as it is', () => {
  const { steps, misfits } = adjustChain(CHAIN, [
    { id: 'gone', settings: { gainDb: 1 } },
    { id: 'hp', settings: { frequencyHz: 5, gainDb: 2 } },
  ]);
  expect(steps).toEqual(CHAIN);
  expect(misfits.map(({ id, setting }) => [id, setting])).toEqual([
    ['gone', undefined],
    ['hp', 'frequencyHz'],
    ['hp', 'gainDb'],
  ]);
});

it('keeps a step of an unknown kind as it was asked', () => {
  const { steps, misfits } = adjustChain([step('from-tomorrow', { a: 1 }, 'x')], [{ id: 'x', settings: { a: 2 } }]);
  expect([steps[0].settings, misfits]).toEqual([{ a: 2 }, []]);
});

it('merges a later change into an earlier one', () => {
  const earlier = [{ id: 'hp', on: false, settings: { frequencyHz: 90, slopeDbPerOctave: 12 } }];
  const later = [
    { id: 'hp', settings: { frequencyHz: 100 } },
    { id: 'g', mix: 0.5, settings: {} },
  ];
  expect(mergeAdjustments(earlier, later)).toEqual([
    { id: 'hp', on: false, settings: { frequencyHz: 100, slopeDbPerOctave: 12 } },
    { id: 'g', mix: 0.5, settings: {} },
  ]);
});

it('groups recordings that do the same otherwise, in the order of their first', () => {
  const [up, down] = [6, -6].map((gainDb) => [{ id: 'trim', settings: { gainDb } }]);
  const recordings = [
    { id: 'a', steps: up },
    { id: 'b', steps: [] },
    { id: 'c', steps: down },
    { id: 'd', steps: [{ id: 'trim', settings: { gainDb: 6 } }] },
  ];
  expect(alikeAdjusted(recordings)).toEqual([
    { ids: ['a', 'd'], steps: up },
    { ids: ['c'], steps: down },
  ]);
});
