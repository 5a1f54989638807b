import { describeStep } from './describe-step.ts';

describe('steps in a line', () => {
  const step = (kind: string, settings: Record<string, unknown> = {}) => ({
    id: 'x',
    kind,
    on: true,
    mix: 1,
    settings,
  });
  it('describe their settings', () =>
    expect(describeStep(step('high-pass', { frequencyHz: 80 }))).toEqual({
      text: '80 Hz, 24 dB per octave',
      wrong: false,
    }));
  it('say what is wrong', () => {
    expect(describeStep(step('gain', { gainDb: 999 })).wrong).toBe(true);
    expect(describeStep(step('phaser')).text).toMatch(/"phaser" is not known/);
  });
});
