import * as z from 'zod';
import { Crossfaded } from '../../dsp/crossfaded.ts';
import { FilterCascade } from '../../dsp/filter-cascade.ts';
import { matchedCascade } from '../../dsp/matched-cascade.ts';
import { bell, highShelf, lowShelf, notch } from '../../dsp/prototypes.ts';
import { type Prototype, prototypesCurve } from '../../dsp/section.ts';
import { choice, decibels, hertz, onOff, quality, settingsOf } from '../../settings/settings.ts';
import { hertzFigure, signedFigure } from '../../signal/figures.ts';
import { handlesOfPoints } from '../handles.ts';
import { defineStep } from '../step.ts';

const band = z.strictObject({
  shape: choice('Shape', ['bell', 'low-shelf', 'high-shelf', 'notch'], {
    default: 'bell',
    labels: { bell: 'Bell', 'low-shelf': 'Low shelf', 'high-shelf': 'High shelf', notch: 'Notch' },
  }),
  frequencyHz: hertz('Frequency', { min: 10, max: 20000, default: 1000 }),
  gainDb: decibels('Gain', { min: -24, max: 24, default: 0 }),
  q: quality('Q', { min: 0.1, max: 20, default: 1 }),
  on: onOff('On', true),
});
type Band = z.output<typeof band>;

const PROTOTYPES: Readonly<Record<Band['shape'], (band: Band) => Prototype>> = {
  bell: ({ frequencyHz, gainDb, q }) => bell(frequencyHz, gainDb, q),
  'low-shelf': ({ frequencyHz, gainDb, q }) => lowShelf(frequencyHz, gainDb, q),
  'high-shelf': ({ frequencyHz, gainDb, q }) => highShelf(frequencyHz, gainDb, q),
  notch: ({ frequencyHz, q }) => notch(frequencyHz, q),
};

const WORDS: Readonly<Record<Band['shape'], string>> = {
  bell: 'at',
  'low-shelf': 'below',
  'high-shelf': 'above',
  notch: 'notch at',
};

const describeBand = ({ shape, frequencyHz, gainDb }: Band) =>
  `${shape === 'notch' ? '' : `${signedFigure(gainDb)} dB `}${WORDS[shape]} ${hertzFigure(frequencyHz)}`;

/** A band that does nothing needs no filter. A band beyond Nyquist has none. */
const sounds = (band: Band, sampleRateHz: number) =>
  band.on && (band.shape === 'notch' ? band.frequencyHz < sampleRateHz / 2 : band.gainDb !== 0);

export const parametricEq = defineStep({
  kind: 'parametric-eq',
  title: 'Parametric EQ',
  group: 'tone',
  summary: 'Lifts or lowers bands of the spectrum.',
  words: [
    'equaliser',
    'equalizer',
    'tone',
    'bright',
    'dull',
    'muddy',
    'boxy',
    'nasal',
    'presence',
    'warm',
    'too sharp',
    'notch',
  ],
  settings: settingsOf(() => ({
    bands: z.array(band).max(16).default([]).meta({ title: 'Bands', item: 'Band' }),
  })),
  traits: {
    bendsWave: true,
    boostsDb: ({ bands }) => Math.max(0, ...bands.filter(({ on }) => on).map(({ gainDb }) => gainDb)),
  },
  describe: ({ bands }) =>
    bands
      .filter((one) => one.on)
      .map(describeBand)
      .join(', ') || 'flat',
  curves: {
    response: ({ bands }) =>
      prototypesCurve(
        bands.filter((one) => sounds(one, Number.POSITIVE_INFINITY)).map((one) => PROTOTYPES[one.shape](one)),
      ),
    handles: ({ bands }) =>
      handlesOfPoints(
        'Band',
        bands,
        (moved) => ({ bands: moved }),
        ({ shape }) => shape !== 'notch',
      ).filter((_, i) => bands[i].on),
  },
  start: (first, format) =>
    new Crossfaded(first, format, ({ bands }) => {
      const { sampleRateHz, channels } = format;
      // all bands share their corrections: fewer sections, and no less exact
      const prototypes = bands.filter((one) => sounds(one, sampleRateHz)).map((one) => PROTOTYPES[one.shape](one));
      return new FilterCascade(matchedCascade(prototypes, sampleRateHz), channels);
    }),
});
