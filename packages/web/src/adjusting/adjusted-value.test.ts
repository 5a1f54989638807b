import type { Recording } from '@tonos/contract';
import { adjustedValue, VARIES } from './adjusted-value.ts';

const own = (gainDb?: number): Pick<Recording, 'adjustments'> => ({
  adjustments: gainDb === undefined ? {} : { c: [{ id: 'g', settings: { gainDb } }] },
});
const value = (...recordings: ReturnType<typeof own>[]) => adjustedValue(recordings, 'c', 'g', 'gainDb', 3);

it('is the chain\u2019s value, one\u2019s own, or varies', () => {
  expect(value(own(), own())).toBe(3);
  expect(value(own(5))).toBe(5);
  expect(value(own(5), own(5))).toBe(5);
  expect(value(own(5), own())).toBe(VARIES);
  // an adjustment that says what the chain says anyway is no difference
  expect(value(own(3), own())).toBe(3);
  expect(adjustedValue([own(5)], 'another', 'g', 'gainDb', 3)).toBe(3);
});
