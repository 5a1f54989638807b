import * as z from 'zod';
import { frequencyCurve } from '../../dsp/frequency-curve.ts';
import { decibels, hertz, settingsOf } from '../../settings/settings.ts';
import { hertzFigure, signedFigure } from '../../signal/figures.ts';
import { CurveFilter } from '../curve-filter.ts';
import { handlesOfPoints } from '../handles.ts';
import { defineStep } from '../step.ts';

const point = z.strictObject({
  frequencyHz: hertz('Frequency', { min: 10, max: 20000, default: 1000 }),
  gainDb: decibels('Gain', { min: -24, max: 24, default: 0 }),
});

const settings = settingsOf(() => ({
  points: z.array(point).max(64).default([]).meta({ title: 'Points', item: 'Point', csv: true }),
}));

export type PointEqSettings = z.output<typeof settings>;

const pointCurve = ({ points }: PointEqSettings) =>
  frequencyCurve(points.map(({ frequencyHz, gainDb }) => [frequencyHz, gainDb]));

export const pointEq = defineStep({
  kind: 'point-eq',
  title: 'Point EQ',
  group: 'tone',
  summary: 'Draws a curve through points and applies it without turning phases.',
  words: ['equaliser', 'curve', 'draw', 'linear phase', 'points', 'microphone correction', 'tone'],
  settings,
  traits: { bendsWave: true, boostsDb: ({ points }) => Math.max(0, ...points.map(({ gainDb }) => gainDb)) },
  describe: ({ points }) =>
    points.map(({ frequencyHz, gainDb }) => `${signedFigure(gainDb)} dB at ${hertzFigure(frequencyHz)}`).join(', ') ||
    'flat',
  curves: {
    response: pointCurve,
    handles: ({ points }) => handlesOfPoints('Point', points, (moved) => ({ points: moved })),
  },
  start: (first: PointEqSettings, format) => new CurveFilter(first, format, pointCurve),
});
