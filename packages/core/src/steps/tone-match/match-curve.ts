import { type Curve, frequencyCurve } from '../../dsp/frequency-curve.ts';
import { kWeightingPower } from '../../dsp/k-weighting.ts';
import { dbToPower, powerToDb } from '../../signal/decibels.ts';
import type { HeardSpectrum, ToneMatchSettings } from './settings.ts';

const ROUNDS = 12;
/** Sixth-octave bands are matched in pairs: in third octaves speech has no gaps. */
const PAIR = 2;

interface Band {
  hz: number;
  power: number;
}

/** A band that the reference knows. */
interface Matched extends Band {
  wanted: number;
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);

/** BS.1770's weighting over a spectrum: what its loudness would be, up to a constant. */
const loudnessDb = <B extends Band>(bands: readonly B[], power: (band: B) => number): number =>
  powerToDb(sum(bands.map((band) => power(band) * kWeightingPower(band.hz))));

/**
 * The curve that brings a heard spectrum's third octaves to the *shape* of the reference, no band moved by more than the
 * range. It leaves the loudness alone. A band's gain acts on its neighbours through the curve, so the gains are found in rounds.
 */
export function matchCurve({ reference, amount, rangeDb }: ToneMatchSettings, heard: HeardSpectrum): Curve {
  const all = heardBands(heard);
  const bands = matchable(reference, all);
  const thirds = Array.from({ length: Math.floor(bands.length / PAIR) }, (_, b) =>
    bands.slice(PAIR * b, PAIR * (b + 1)),
  );
  if (thirds.length < 2) return () => 0;
  const middles = thirds.map(([lower, upper]) => Math.sqrt(lower.hz * upper.hz));
  const through = (gains: readonly number[]) => frequencyCurve(middles.map((hz, b) => [hz, gains[b]]));
  const offset = loudnessDb(bands, (band) => band.power) - loudnessDb(bands, (band) => band.wanted);
  const wantedDb = thirds.map((third) => offset + powerToDb(sum(third.map((band) => band.wanted))));
  const within = (db: number) => Math.max(-rangeDb, Math.min(rangeDb, db));

  let gains = middles.map(() => 0);
  for (let round = 0; round < ROUNDS; round++) {
    const curve = through(gains);
    const made = (band: Matched) => band.power * dbToPower(curve(band.hz));
    gains = thirds.map((third, b) => within(gains[b] + wantedDb[b] - powerToDb(sum(third.map(made)))));
  }
  const curve = through(gains.map((gain) => amount * gain));
  const louder =
    loudnessDb(all, (band) => band.power * dbToPower(curve(band.hz))) - loudnessDb(all, (band) => band.power);
  return (hz) => curve(hz) - louder;
}

const heardBands = ({ centresHz, levelsDb }: HeardSpectrum): Band[] =>
  centresHz.flatMap((hz, b) => {
    const db = levelsDb[b];
    return db === null ? [] : [{ hz, power: dbToPower(db) }];
  });

/** The bands within the reference; stored frequencies are rounded. */
function matchable(reference: ToneMatchSettings['reference'], bands: readonly Band[]): Matched[] {
  if (reference.length < 2) return [];
  const wantedDb = frequencyCurve(reference.map(({ frequencyHz, levelDb }) => [frequencyHz, levelDb]));
  const known = reference.map(({ frequencyHz }) => frequencyHz);
  const [lowest, highest] = [0.99 * Math.min(...known), 1.01 * Math.max(...known)];
  return bands
    .filter(({ hz }) => hz >= lowest && hz <= highest)
    .map((band) => ({ ...band, wanted: dbToPower(wantedDb(band.hz)) }));
}
