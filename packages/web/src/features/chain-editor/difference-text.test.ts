import { compareChains } from '@tonos/core';
import { differenceText } from './difference-text.ts';

const step = (id: string, kind: string, settings = {}, on = true) => ({ id, kind, on, mix: 1, settings });
const texts = (before: ReturnType<typeof step>[], after: ReturnType<typeof step>[]) =>
  compareChains(before, after).map((one) => {
    const { title, text } = differenceText(one);
    return `${title}: ${text}`;
  });

it('says what differs with titles, units and real minus signs', () => {
  const before = [step('a', 'gain', { gainDb: 2 }), step('b', 'high-pass', { frequencyHz: 80 }), step('c', 'limiter')];
  const after = [
    step('b', 'high-pass', { frequencyHz: 110 }),
    step('a', 'gain', { gainDb: -1.5 }, false),
    step('d', 'tape'),
  ];
  expect(texts(before, after)).toEqual([
    'High-pass: frequency 80\u2009Hz \u2192 110\u2009Hz',
    'Gain: from step 1 to 2; switched off; gain 2\u2009dB \u2192 \u22121.5\u2009dB',
    'tape: added as step 3',
    'Limiter: removed; it was step 3',
  ]);
});

it('says default where a side states nothing, and counts lists', () => {
  expect(texts([step('a', 'gain')], [step('a', 'gain', { gainDb: 3 })])).toEqual([
    'Gain: gain default \u2192 3\u2009dB',
  ]);
  const bands = [{ frequencyHz: 100 }, { frequencyHz: 200 }];
  expect(texts([step('e', 'parametric-eq', { bands: [] })], [step('e', 'parametric-eq', { bands })])).toEqual([
    'Parametric EQ: bands 0 entries \u2192 2 entries',
  ]);
});
