import { chainFile } from '@tonos/core';
import { changedStep, movedStep, namedSteps, ownChain, withNewStep, withoutStep } from './step-list.ts';

const steps = namedSteps([
  { kind: 'gain', on: true, mix: 1, settings: { gainDb: 1 } },
  { id: 'b', kind: 'gain', on: true, mix: 1, settings: { gainDb: 2 } },
  { kind: 'limiter', on: false, mix: 1, settings: {} },
]);
const ids = (some: readonly { id: string }[]) => some.map(({ id }) => id).join(' ');

it('every step has its name, and what is changed of one leaves the others as they are', () => {
  expect(ids(steps)).toBe('step-1 b step-3');
  const changed = changedStep(steps, 'b', { on: false });
  expect(changed.map(({ on }) => on)).toEqual([true, false, false]);
  expect(changed[0]).toBe(steps[0]);
});

it.each([
  [0, 1, 'b step-1 step-3'],
  [2, -2, 'step-3 step-1 b'],
  [0, -1, 'step-1 b step-3'],
  [2, 5, 'step-1 b step-3'],
])('moves %d by %d', (at, by, wanted) => expect(ids(movedStep(steps, at, by))).toBe(wanted));

it('adds and takes out, and what it becomes is a chain file', () => {
  const more = withNewStep(withoutStep(steps, 'b'), { kind: 'fade', settings: { inSeconds: 1 } });
  expect(more.map(({ kind }) => kind)).toEqual(['gain', 'limiter', 'fade']);
  expect(chainFile.parse(ownChain('Voices', more))).toMatchObject({ name: 'Voices', steps: more });
});
