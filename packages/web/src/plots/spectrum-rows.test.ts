import { levelTicks, spectrumRows } from './spectrum-rows.ts';

it('has a row a band, with what was taken away between two lines, whichever is higher', () => {
  const lines = [
    { name: 'before', values: [-20, null, -60] },
    { name: 'after', values: [-30, -40, -50] },
  ];
  const rows = spectrumRows([100, 200, 400], lines, { from: lines[0].values, to: lines[1].values });
  expect(rows).toEqual([
    { hz: 100, before: -20, after: -30, taken: [-30, -20] },
    { hz: 200, before: null, after: -40 },
    { hz: 400, before: -60, after: -50, taken: [-60, -50] },
  ]);
});

it('rules levels over 96 dB with room above the highest, also where nothing sounds', () => {
  expect(levelTicks([-31, null, -80])).toEqual([-120, -96, -72, -48, -24]);
  // a level just under a rule still has 3 dB above it
  expect(levelTicks([-24]).at(-1)).toBe(-12);
  expect(levelTicks([null]).at(-1)).toBe(-192);
});
