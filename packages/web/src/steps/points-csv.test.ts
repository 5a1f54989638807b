import { pointsFromCsv, pointsToCsv } from './points-csv.ts';

it('comes back from CSV as it went', () => {
  const points = [
    { frequencyHz: 63.5, gainDb: -2.25 },
    { frequencyHz: 1000, gainDb: 0 },
  ];
  expect(pointsFromCsv(pointsToCsv(points))).toEqual(points);
});

it('reads what other programs write: tabs, semicolons, a head, a real minus', () => {
  expect(pointsFromCsv('Frequency;Gain\n100;\u22121.5\n\n1e3\t2\n')).toEqual([
    { frequencyHz: 100, gainDb: -1.5 },
    { frequencyHz: 1000, gainDb: 2 },
  ]);
});

it('says which line is wrong, and where nothing is right', () => {
  expect(() => pointsFromCsv('100,1\nloud,2')).toThrow(/Line 2/);
  expect(() => pointsFromCsv('no figures here')).toThrow(/no line/);
});
