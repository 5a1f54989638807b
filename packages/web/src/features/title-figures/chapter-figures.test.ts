import type { DeliveredFigures, Recording } from '@tonos/contract';
import { chapterFigures } from './chapter-figures.ts';

type Chapter = Parameters<typeof chapterFigures>[0][number];

const chapters = (levels: readonly (number | null)[]): Chapter[] =>
  levels.map((integratedLufs, i) => ({
    id: `r${i}`,
    name: `${i}.wav`,
    givenName: i === 0 ? 'Opening' : '',
    position: i + 1,
    measurement: integratedLufs === null ? null : ({ integratedLufs } as Recording['measurement']),
  }));
const delivered = (id: string, integratedLufs: number | null): DeliveredFigures => ({
  recordingId: id,
  runId: 'run',
  itemId: `item of ${id}`,
  delivered: { integratedLufs } as DeliveredFigures['delivered'],
});

it('names by how much a delivered figure is outside of the window, and holds sources against each other', () => {
  const given = chapters([-20, -21, -20.5, -19.5, -35, null]);
  const rows = chapterFigures(
    given,
    [delivered('r0', -15), delivered('r1', -22), delivered('r2', -18)],
    'integratedLufs',
    {
      min: -20,
      max: -16,
    },
  );
  expect(rows.map(({ name, delivered: to, outlier }) => [name, to, outlier])).toEqual([
    ['Opening', -15, { by: 1, from: 'window' }],
    ['1.wav', -22, { by: -2, from: 'window' }],
    ['2.wav', -18, null],
    ['3.wav', null, null],
    // the median of -15, -22, -18, -19.5, -35 is -19.5; the usual distance 2.5, so 3.5 sigma are 13.0 dB
    ['4.wav', null, { by: -15.5, from: 'median' }],
    ['5.wav', null, null],
  ]);
});

it('an alike title has no outliers for a tenth of a decibel, and few chapters have none at all', () => {
  expect(
    chapterFigures(chapters([-20, -20, -20, -20, -20.4]), [], 'integratedLufs', undefined).some(
      ({ outlier }) => outlier,
    ),
  ).toBe(false);
  expect(chapterFigures(chapters([-20, -20, -20, -20, -22]), [], 'integratedLufs', undefined)[4].outlier).toEqual({
    by: -2,
    from: 'median',
  });
  expect(
    chapterFigures(chapters([-20, -20, -40]), [], 'integratedLufs', undefined).some(({ outlier }) => outlier),
  ).toBe(false);
});
