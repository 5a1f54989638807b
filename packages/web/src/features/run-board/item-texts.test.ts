import type { RunItem } from '@tonos/contract';
import type { LimitResult } from '@tonos/core';
import { figureText } from '../../ui/figure-text.ts';
import { verdictText } from '../../ui/verdict-text.ts';
import { outlierNotes } from './outlier-notes.ts';

const limit = (measure: string, result: LimitResult['result'], by: number | null, required = true) =>
  ({ measure, min: null, max: 0, value: by, result, by, required }) as LimitResult;
const item = (more: Partial<RunItem>) =>
  ({ id: 'i', status: 'off-target', limits: [], accepted: null, after: null, ...more }) as RunItem;

describe('an item in a few words', () => {
  it.each([
    [{ status: 'queued' }, 'waiting'],
    [{ status: 'working' }, 'working'],
    [{ status: 'within' }, 'within'],
    [{ status: 'failed' }, 'failed'],
    [{}, 'off target: silence'],
    [{ limits: [limit('noiseFloorDbfs', 'over', 3.21)] }, 'Noise floor over by 3.2\u00a0dB'],
    [{ limits: [limit('noiseFloorDbfs', 'over', 3.14)] }, 'Noise floor over by 3.1\u00a0dB'],
    [
      {
        limits: [
          limit('integratedLufs', 'under', 1),
          limit('truePeakDbtp', 'over', 2),
          limit('loudnessRangeLu', 'over', 9, false),
        ],
      },
      'True peak over by 2.0\u00a0dB, 1 more',
    ],
    [{ limits: [limit('integratedLufs', 'under', 1)] }, 'Loudness under by 1.0\u00a0LU'],
    [
      {
        limits: [limit('truePeakDbtp', 'over', 0.4), limit('noiseFloorDbfs', 'over', 3), limit('rmsDbfs', 'within', 0)],
      },
      'Noise floor over by 3.0\u00a0dB, 1 more',
    ],
    [
      { limits: [limit('loudnessRangeLu', 'over', 9, false), limit('clippedRuns', 'over', 2)] },
      'Clipped runs over by 2.0',
    ],
  ] as [Partial<RunItem>, string][])('%j: %s', (more, text) => {
    expect(verdictText(item(more)).trim()).toBe(text);
  });

  it('says that somebody took it', () => {
    const accepted = { reason: 'The client wants it so.', at: '2026-05-01' };
    expect(verdictText(item({ accepted, limits: [limit('noiseFloorDbfs', 'over', 3)] }))).toMatch(
      /^accepted: Noise floor/,
    );
  });
});

describe('a figure in a table', () => {
  it.each([
    ['integratedLufs', -18.249, '\u221218.2'],
    ['durationSeconds', 3723, '1:02:03'],
    ['clippedRuns', 4, '4'],
    ['headSilenceSeconds', 0.5, '0.50'],
    ['noiseFloorDbfs', null, '\u2013'],
    ['truePeakDbtp', -0.04, '0.0'],
  ] as const)('%s of %s is %s', (measure, value, text) => {
    expect(figureText(measure, value)).toBe(text);
  });
});

describe('outliers over the items of a run', () => {
  const after = (integratedLufs: number | null, noiseFloorDbfs = -65) =>
    ({ integratedLufs, noiseFloorDbfs, loudnessRangeLu: 5, crestDb: 15 }) as RunItem['after'];
  const items = (...levels: (number | null)[]) =>
    levels.map((level, i) => item({ id: `i${i}`, after: level === null ? null : after(level) }));

  it('name the one that departs, by how much and to which side', () => {
    const notes = outlierNotes(items(-19, -19.1, -18.9, -19, -15, -19.05, -18.95));
    expect([...notes.keys()]).toEqual(['i4']);
    expect(notes.get('i4')).toEqual(['Loudness 4.0 LU over the median of the rest']);
  });

  it('say nothing of what nobody hears, nor of few items, nor of those that have no figures', () => {
    expect(outlierNotes(items(-19, -19.01, -19, -19.02, -19.4, -19)).size).toBe(0);
    expect(outlierNotes(items(-19, -10)).size).toBe(0);
    expect(outlierNotes(items(null, null, null)).size).toBe(0);
    expect(outlierNotes([]).size).toBe(0);
  });
});
