import type * as z from 'zod';
import { Crossfaded } from '../dsp/crossfaded.ts';
import { FilterCascade } from '../dsp/filter-cascade.ts';
import type { Curve } from '../dsp/frequency-curve.ts';
import { matchedCascade } from '../dsp/matched-cascade.ts';
import { butterworth } from '../dsp/prototypes.ts';
import { prototypesCurve } from '../dsp/section.ts';
import { hertz, oneOf, settingsOf } from '../settings/settings.ts';
import { hertzFigure } from '../signal/figures.ts';
import type { SignalFormat } from '../signal/signal.ts';
import type { Handle } from './handles.ts';
import type { StepTraits } from './traits.ts';

/** What is left of the power at the corner of a Butterworth filter is a half. */
const CORNER_DB = -3.01;

/** A Butterworth cut of 6 dB per octave and order: what high-pass and low-pass share. */
export function cutFilter(type: 'high' | 'low', defaultHz: number) {
  const settings = settingsOf(() => ({
    frequencyHz: hertz('Frequency', { min: 10, max: 20000, default: defaultHz }),
    slopeDbPerOctave: oneOf('Slope', 'dB per octave', [6, 12, 18, 24, 36, 48], 24),
  }));
  type Settings = z.output<typeof settings>;
  const traits: StepTraits<Settings> = { bendsWave: true, ...(type === 'high' && { cutsBelow: 'frequencyHz' }) };
  return {
    settings,
    traits,
    describe: ({ frequencyHz, slopeDbPerOctave }: Settings) =>
      `${hertzFigure(frequencyHz)}, ${slopeDbPerOctave} dB per octave`,
    curves: {
      response: ({ frequencyHz, slopeDbPerOctave }: Settings): Curve =>
        prototypesCurve(butterworth(type, slopeDbPerOctave / 6, frequencyHz)),
      handles: (all: Settings): Handle<Settings>[] => [
        {
          label: 'Corner',
          frequencyHz: all.frequencyHz,
          gainDb: CORNER_DB,
          movesGain: false,
          moved: (frequencyHz) => ({ ...all, frequencyHz }),
        },
      ],
    },
    start: (first: Settings, format: SignalFormat) =>
      new Crossfaded(first, format, ({ frequencyHz, slopeDbPerOctave }) => {
        const prototypes = butterworth(type, slopeDbPerOctave / 6, frequencyHz);
        return new FilterCascade(matchedCascade(prototypes, format.sampleRateHz), format.channels);
      }),
  };
}
