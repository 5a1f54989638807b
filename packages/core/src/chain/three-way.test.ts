import fc from 'fast-check';
import type { ChainStep } from './chain-file.ts';
import { threeWay } from './three-way.ts';

const step = (id: string, gainDb = 0): ChainStep => ({ id, kind: 'gain', on: true, mix: 100, settings: { gainDb } });
const ids = (steps: readonly ChainStep[] | null) => steps?.map(({ id }) => id).join('');
const base = [step('a'), step('b'), step('c')];

it('takes both where they touch different steps', () => {
  const theirs = [step('a', 3), step('b'), step('c'), step('d')];
  const mine = [step('a'), step('x'), step('b', 1)]; // c is out
  const { both, clashes } = threeWay(base, theirs, mine);
  expect(clashes).toEqual([]);
  expect(both).toEqual([step('a', 3), step('x'), step('b', 1), step('d')]);
});

it('does not where they touch the same one otherwise', () => {
  const cases: [ChainStep[], ChainStep[]][] = [
    [
      [step('a', 3), step('b'), step('c')],
      [step('a', 4), step('b'), step('c')],
    ],
    [
      [step('b'), step('c')],
      [step('a', 4), step('b'), step('c')],
    ],
    [
      [step('a', 4), step('b'), step('c')],
      [step('b'), step('c')],
    ],
  ];
  for (const [theirs, mine] of cases)
    expect(threeWay(base, theirs, mine)).toMatchObject({ clashes: ['a'], both: null });
});

it('is at peace where both did the same', () => {
  const same = [step('b', 2), step('c')];
  expect(threeWay(base, same, same).both).toEqual(same);
});

it('a step that I moved stands behind the one that it stood behind, with theirs between', () => {
  const theirs = [step('a'), step('n'), step('b'), step('c')];
  expect(ids(threeWay(base, theirs, [step('c'), step('a'), step('b')]).both)).toBe('canb');
});

const states = fc
  .uniqueArray(fc.constantFrom(...'abcdefgh'), { maxLength: 8 })
  .chain((own) => fc.tuple(...own.map((id) => fc.integer({ min: 0, max: 2 }).map((db) => step(id, db)))));

it('with one who changed nothing it is what the other made, steps and order', () => {
  fc.assert(
    fc.property(states, states, (from, to) => {
      expect(threeWay(from, from, to).both).toEqual(to);
      expect(threeWay(from, to, from).both).toEqual(to);
    }),
  );
});

it('holds every change of both, whichever comes first', () => {
  fc.assert(
    fc.property(states, states, states, (from, theirs, mine) => {
      const there = threeWay(from, theirs, mine);
      const back = threeWay(from, mine, theirs);
      expect(there.clashes.toSorted()).toEqual(back.clashes.toSorted());
      const sorted = (steps: ChainStep[] | null) => steps?.map((one) => JSON.stringify(one)).sort();
      expect(sorted(there.both)).toEqual(sorted(back.both));
    }),
  );
});
