import { SpectrumMeter } from '../../measure/spectrum.ts';
import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { CurveFilter } from '../curve-filter.ts';
import { defineStep } from '../step.ts';
import { matchCurve } from './match-curve.ts';
import { type HeardSpectrum, SILENCE, settings, type ToneMatchSettings } from './settings.ts';

export const toneMatch = defineStep<ToneMatchSettings, HeardSpectrum>({
  kind: 'tone-match',
  title: 'Tone match',
  group: 'tone',
  summary:
    'Brings the long-term spectrum to the shape of a reference, so that recordings of different days sound alike.',
  words: ['match', 'reference', 'spectrum', 'same sound', 'another day', 'microphone', 'equaliser', 'tone'],
  settings,
  describe: ({ reference, amount, rangeDb }) => {
    if (reference.length < 2) return 'no reference';
    const hz = reference.map(({ frequencyHz }) => frequencyHz);
    const span = `${hertzFigure(Math.min(...hz))} to ${hertzFigure(Math.max(...hz))}`;
    return `${plainFigure(100 * amount)} % of the way, \u00b1${plainFigure(rangeDb)} dB, ${span}`;
  },
  needsStudy: ({ reference }) => reference.length >= 2,
  studied: () => null,
  study: (_, format) => {
    const meter = new SpectrumMeter(format);
    return {
      hear: (block) => meter.hear(block),
      conclude: () => {
        const { centresHz, loudDb } = meter.conclude();
        return { centresHz, levelsDb: loudDb };
      },
    };
  },
  curves: { response: (now, findings) => matchCurve(now, { ...SILENCE, ...findings }) },
  start: (first, format, findings) =>
    new CurveFilter(first, format, (now) => matchCurve(now, { ...SILENCE, ...findings })),
});
