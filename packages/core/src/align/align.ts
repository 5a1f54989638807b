import { resampled } from '../dsp/resampler.ts';
import { type CancelSignal, framesOf, type Source } from '../signal/signal.ts';
import { correlate, correlateWithin, peaksOf } from './correlate.ts';
import { ENVELOPES_PER_SECOND, type Envelopes, envelopesOf, sumInto } from './envelopes.ts';
import { fitLine, type Line, type Point } from './fit-line.ts';

/** Where a recording lies on the time of another one. */
export interface Alignment {
  /** Where its first sample lies on the other one's time. */
  offsetSeconds: number;
  /** By how much its clock is faster: what lasts a second for the other one lasts 1 + driftPpm / 10^6 s for it. */
  driftPpm: number;
  /** 0 to 1: from nothing in common to no doubt. */
  confidence: number;
}

export const TOGETHER: Alignment = { offsetSeconds: 0, driftPpm: 0, confidence: 1 };
const NOWHERE: Alignment = { offsetSeconds: 0, driftPpm: 0, confidence: 0 };
/** Under this, recordings are not taken for parts of one session. */
export const LEAST_CONFIDENCE = 0.3;

const RATE_HZ = 8000;
const MOST_WINDOWS = 48;
const MOST_WINDOW_SECONDS = 12;
const LEAST_WINDOW_SECONDS = 1;
/** To tell one rough place from another. */
const PROBE_WINDOWS = 8;
/** Rough places that are looked at, how far they lie from one another, and which share of the best one's fit they must have. */
const MOST_PLACES = 6;
const APART_SECONDS = 0.4;
const CLEARLY_LESS = 0.6;
/** Envelopes place a recording to a step or two; drift adds to it towards the ends. */
const REACH_SECONDS = 0.25;
const MOST_DRIFT = 200e-6;
const HEARD_HZ = [120, 3600] as const;
/** Noise of one microphone counts for less, and so does the colour of the rooms. */
const WHITEN = 0.8;
/** What a fit must stand over the rest of its lags to be looked at. */
const LEAST_OVER = 4;
/** Echoes and noise move a fit by less. */
const WITHIN_SECONDS = 0.0015;
/** Shorter overlaps say nothing of clocks. */
const LEAST_DRIFT_SECONDS = 60;
/** So many windows agree by chance. */
const BY_CHANCE = 2;

/**
 * Where recordings of one session lie on the time of the first: envelopes tell roughly, waves in some windows exactly, and a line
 * through these the drift. Each source is read two or three times.
 */
export async function alignSources(sources: readonly Source[], signal?: CancelSignal): Promise<Alignment[]> {
  if (!sources.length) return [];
  const [first, ...others] = sources;
  const reference = await envelopesOf(first, signal);
  const found: Alignment[] = [TOGETHER];
  for (const other of others) found.push(await alignTo(first, reference, other, signal));
  return found;
}

async function alignTo(first: Source, reference: Envelopes, other: Source, signal?: CancelSignal): Promise<Alignment> {
  const own = await envelopesOf(other, signal);
  if (!reference.bands[0].length || !own.bands[0].length) return NOWHERE;
  const fits = correlate(reference.bands.map((band, b) => [band, own.bands[b]] as const));
  const rough = peaksOf(fits, MOST_PLACES, APART_SECONDS * ENVELOPES_PER_SECOND);
  const clear = rough.filter(({ over }) => over > CLEARLY_LESS * rough[0].over);
  const places = clear.map(({ lag }) => lag / ENVELOPES_PER_SECOND);
  const pair: Pair = {
    first,
    other,
    firstSeconds: reference.frames / first.format.sampleRateHz,
    otherSeconds: own.frames / other.format.sampleRateHz,
  };
  // who speaks with whom goes up and down alike at wrong places too: there the waves have nothing in common
  const [roughSeconds] = places.length > 1 ? await bestFirst(pair, places, signal) : places;
  if (roughSeconds === undefined) return NOWHERE;
  const [{ line, windows, seconds }] = await linesThrough(pair, [roughSeconds], MOST_WINDOWS, signal);
  if (!line) return { ...NOWHERE, offsetSeconds: roughSeconds };
  // a moment of its own lies at offset + own / (1 + drift): by how much that is later grows by 1 / (1 + drift) - 1
  const slope = seconds < LEAST_DRIFT_SECONDS ? 0 : line.slope;
  const offsetSeconds = slope ? line.offset : line.on.reduce((sum, { y }) => sum + y, 0) / line.on.length;
  const wanted = Math.max(1, windows / 2 - BY_CHANCE);
  return {
    offsetSeconds,
    driftPpm: (1 / (1 + slope) - 1) * 1e6,
    confidence: Math.max(0, Math.min(1, (line.on.length - BY_CHANCE) / wanted)),
  };
}

interface Pair {
  first: Source;
  other: Source;
  firstSeconds: number;
  otherSeconds: number;
}

/** Places by how many windows of waves agree with each. */
async function bestFirst(pair: Pair, places: readonly number[], signal?: CancelSignal): Promise<number[]> {
  const lines = await linesThrough(pair, places, PROBE_WINDOWS, signal);
  const agreeing = (i: number) => (lines[i].line?.on.length ?? 0) / Math.max(1, lines[i].windows);
  return [...places.keys()].sort((a, b) => agreeing(b) - agreeing(a)).map((i) => places[i]);
}

interface Through {
  /** What the other one's moments are late by, over their own seconds. */
  line: Line | undefined;
  windows: number;
  /** From the first window's begin to the last one's end. */
  seconds: number;
}

/** For each rough place the line through the exact fits of some windows: both sources are read once for all. */
async function linesThrough(
  pair: Pair,
  places: readonly number[],
  mostWindows: number,
  signal?: CancelSignal,
): Promise<Through[]> {
  const reach = REACH_SECONDS + MOST_DRIFT * Math.max(pair.firstSeconds, pair.otherSeconds);
  const each = places.map((place) => ({ place, windows: windowsIn(place, pair, mostWindows) }));
  const all = each.flatMap(({ place, windows }) => windows.map((window) => ({ place, ...window })));
  const mine = await stretchesOf(
    pair.first,
    all.map(({ place, at, seconds }) => ({ start: at + place - reach, seconds: seconds + 2 * reach })),
    signal,
  );
  const theirs = await stretchesOf(
    pair.other,
    all.map(({ at, seconds }) => ({ start: at, seconds })),
    signal,
  );
  let next = 0;
  return each.map(({ place, windows }) => {
    const points = windows.flatMap(({ at, seconds }): Point[] => {
      const fits = correlateWithin(mine[next], theirs[next], Math.floor(2 * reach * RATE_HZ), WHITEN, inHeardBand);
      next++;
      const [best] = peaksOf(fits, 1, 1);
      if (!best || best.over < LEAST_OVER) return [];
      return [{ x: at + seconds / 2, y: place - reach + best.lag / RATE_HZ }];
    });
    const last = windows.at(-1);
    const seconds = last ? last.at + last.seconds - windows[0].at : 0;
    const line = fitLine(points, seconds < LEAST_DRIFT_SECONDS ? 0 : MOST_DRIFT, WITHIN_SECONDS);
    return { line, windows: windows.length, seconds };
  });
}

/** @param share of the rate */
const inHeardBand = (share: number): boolean => share * RATE_HZ >= HEARD_HZ[0] && share * RATE_HZ <= HEARD_HZ[1];

interface Window {
  at: number;
  seconds: number;
}

/** Stretches of the other one, in its own seconds, that lie evenly over what it shares with the first. */
function windowsIn(offsetSeconds: number, { firstSeconds, otherSeconds }: Pair, most: number): Window[] {
  const from = Math.max(0, -offsetSeconds);
  const to = Math.min(otherSeconds, firstSeconds - offsetSeconds);
  const seconds = Math.max(LEAST_WINDOW_SECONDS, Math.min(MOST_WINDOW_SECONDS, (to - from) / PROBE_WINDOWS));
  const count = Math.min(most, Math.floor((to - from) / seconds));
  if (count < 1) return [];
  const step = count > 1 ? (to - from - seconds) / (count - 1) : 0;
  return Array.from({ length: count }, (_, i) => ({ at: from + i * step, seconds }));
}

/** Stretches of a source as one channel of 8 kHz; silence where it has no sound. */
async function stretchesOf(
  source: Source,
  wanted: readonly { start: number; seconds: number }[],
  signal?: CancelSignal,
): Promise<Float32Array[]> {
  const { sampleRateHz } = source.format;
  const open = wanted.map(({ start, seconds }) => {
    const from = Math.round(start * sampleRateHz);
    return { from, to: from + Math.round(seconds * sampleRateHz), samples: new Float32Array(0) as Float32Array };
  });
  const last = open.reduce((most, { to }) => Math.max(most, to), 0);
  let at = 0;
  for await (const block of source.blocks({ signal })) {
    signal?.throwIfAborted();
    const end = at + framesOf(block);
    for (const stretch of open) {
      const [first, behind] = [Math.max(stretch.from, at), Math.min(stretch.to, end)];
      if (first >= behind) continue;
      if (!stretch.samples.length) stretch.samples = new Float32Array(stretch.to - stretch.from);
      sumInto(stretch.samples.subarray(first - stretch.from, behind - stretch.from), block, first - at);
      // long ones are made small as soon as they are whole
      if (behind === stretch.to) stretch.samples = lowered(stretch.samples, sampleRateHz);
    }
    at = end;
    if (at >= last) break;
  }
  return open.map(({ to, samples }, i) => {
    const made = samples.length && to > at ? lowered(samples, sampleRateHz) : samples;
    return made.length ? made : new Float32Array(Math.round(wanted[i].seconds * RATE_HZ));
  });
}

const lowered = (samples: Float32Array, sampleRateHz: number): Float32Array =>
  resampled([samples], sampleRateHz, RATE_HZ)[0];
