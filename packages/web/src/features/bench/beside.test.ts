import type { Measurement } from '@tonos/core';
import { figuresBeside } from './beside-slice.ts';

const one = (id: string, integratedLufs: number | null) => ({ id, measurement: { integratedLufs } as Measurement });
const title = [one('a', -30), one('b', -20), { id: 'c', measurement: null }, one('d', null), one('e', -16)];

describe('figures beside a recording', () => {
  it('are those of the neighbours in the title\u2019s order', () => {
    expect(figuresBeside('previous', { id: 'b' }, title).integratedLufs).toBe(-30);
    expect(figuresBeside('next', { id: 'a' }, title).integratedLufs).toBe(-20);
  });

  it('are none at the ends, and beside what was not measured', () => {
    expect(figuresBeside('previous', { id: 'a' }, title)).toEqual({});
    expect(figuresBeside('next', { id: 'b' }, title)).toEqual({});
  });

  it('are medians over what has a value', () => {
    expect(figuresBeside('median', { id: 'a' }, title).integratedLufs).toBe(-20);
    expect(figuresBeside('median', { id: 'a' }, title.slice(0, 2)).integratedLufs).toBe(-25);
    expect(figuresBeside('median', { id: 'a' }, title).truePeakDbtp).toBeNull();
  });
});
