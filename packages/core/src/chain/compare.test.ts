import type { ChainStep } from './chain-file.ts';
import { compareChains } from './compare.ts';

const step = (id: string, kind = 'gain', settings = {}, on = true): ChainStep => ({ id, kind, on, mix: 1, settings });
const brief = (before: ChainStep[], after: ChainStep[]) =>
  compareChains(before, after).map(({ id, from, to, moved, changes }) => [
    id,
    from,
    to,
    moved,
    changes.map(({ key }) => key),
  ]);

it('finds nothing between equal chains', () => {
  expect(compareChains([step('a'), step('b')], [step('a'), step('b')])).toEqual([]);
});

it('finds what was added, removed and changed, with both values', () => {
  const before = [step('a', 'gain', { gainDb: 1 }), step('b'), step('c')];
  const after = [step('a', 'gain', { gainDb: 3 }, false), step('n', 'limiter'), step('c')];
  expect(brief(before, after)).toEqual([
    ['a', 1, 1, false, ['on', 'gainDb']],
    ['n', null, 2, false, []],
    ['b', 2, null, false, []],
  ]);
  expect(compareChains(before, after)[0].changes[1]).toEqual({ key: 'gainDb', from: 1, to: 3 });
});

it('calls moved only what was carried, not what made room', () => {
  const [a, b, c, d] = ['a', 'b', 'c', 'd'].map((id) => step(id));
  expect(brief([a, b, c, d], [b, c, d, a])).toEqual([['a', 1, 4, true, []]]);
  // an added step pushes the others down: they have not moved
  expect(brief([a, b], [d, a, b])).toEqual([['d', null, 1, false, []]]);
});

it('takes another kind under the same id for another step', () => {
  expect(brief([step('a', 'gain')], [step('a', 'limiter')])).toEqual([
    ['a', null, 1, false, []],
    ['a', 1, null, false, []],
  ]);
});
