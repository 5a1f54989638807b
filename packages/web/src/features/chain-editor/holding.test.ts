import type { EditedStep } from './chain-slice.ts';
import { NOTHING_HELD, soundingSteps, withStep } from './holding.ts';

const step = (id: string, gainDb: number): EditedStep => ({ id, kind: 'gain', on: true, mix: 1, settings: { gainDb } });
const gains = (steps: readonly EditedStep[]) => steps.map(({ id, settings }) => `${id} ${settings.gainDb}`);

it('what nobody holds is heard as it stands, and is the same list', () => {
  const steps = [step('a', 1), step('b', 2)];
  expect(soundingSteps(steps, NOTHING_HELD)).toBe(steps);
});

it('a step that is held is heard as it was, wherever it goes, until it is let go', () => {
  const held = withStep(NOTHING_HELD, step('a', 1));
  const changed = [step('b', 5), step('a', 9)];
  expect(gains(soundingSteps(changed, held))).toEqual(['b 5', 'a 1']);
  expect(gains(soundingSteps(changed, withStep(held, changed[1])))).toEqual(['b 5', 'a 9']);
  // one that is taken out is not heard either
  expect(gains(soundingSteps([step('b', 5)], held))).toEqual(['b 5']);
});

it('a chain that is held is heard as it was, whatever is added or taken out', () => {
  const before = [step('a', 1)];
  expect(soundingSteps([step('c', 3)], { steps: {}, chain: before })).toBe(before);
});
