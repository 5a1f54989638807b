import type { ConfiguredStep } from '../chain/chain-file.ts';
import { runChain } from '../chain/run.ts';
import { resampled } from '../dsp/resampler.ts';
import { SpeechEdgeMeter } from '../measure/activity/speech-edges.ts';
import { LoudnessMeter } from '../measure/loudness.ts';
import { type LongTermSpectrum, SpectrumMeter } from '../measure/spectrum.ts';
import { changeLayout } from '../signal/change-layout.ts';
import { dbToGain } from '../signal/decibels.ts';
import { cut as inBlocks, MemorySignal, MemorySpool } from '../signal/memory.ts';
import {
  type Block,
  type CancelSignal,
  emptyBlock,
  framesOf,
  type SignalFormat,
  type Source,
  sliceBlock,
} from '../signal/signal.ts';
import { noiseReduction } from '../steps/noise-reduction/noise-reduction.ts';
import type { AnyStep } from '../steps/step.ts';
import { toneMatch } from '../steps/tone-match/tone-match.ts';
import { roomToneFill } from '../time/room-tone-fill.ts';
import { readStretches } from '../time/room-tone-stretches.ts';
import type { Filling } from '../time/splice.ts';
import { type PickUp, spanOf, type TimeCut } from './cut.ts';
import { levelled, nearestStretches, roomLevelDb, roomStretches } from './room-near.ts';

/** So much of a pick-up's recording is heard on either side of it: joins need it, and its room is learned there. */
const AROUND_SECONDS = 6;
const BLOCK_FRAMES = 4096;
/** Speech of a pick-up as short as this is heard long enough by going round it. */
const LEAST_HEARD_SECONDS = 3;
const MOST_GAIN_DB = 30;
const MOST_TONE_DB = 18;
const MOST_ROOM_DB = 30;
const MOST_ROUNDS = 6;
const ENOUGH_DB = 1.5;
const REFERENCE_HZ = [80, 12_000] as const;

/** So much of the chapter on either side of a pick-up tells what it is brought to. */
export const SURROUNDING_SECONDS = 12;

/** What a pick-up is brought to: the chapter around its place. */
export interface Surrounding {
  /** Of its speech; -Infinity where nobody speaks near. */
  loudnessLufs: number;
  spectrum: LongTermSpectrum;
  /** Its room by itself, from near the place. */
  room: readonly Block[];
}

/** Hears the chapter on both sides of a place. */
export class SurroundingMeter {
  private readonly loudness: LoudnessMeter;
  private readonly spectrum: SpectrumMeter;

  /** @param windows in frames, in order */
  constructor(
    private readonly windows: readonly (readonly [from: number, to: number])[],
    format: SignalFormat,
  ) {
    this.loudness = new LoudnessMeter(format);
    this.spectrum = new SpectrumMeter(format);
  }

  hear(block: Block, start: number): void {
    const end = start + framesOf(block);
    for (const [from, to] of this.windows) {
      const [first, last] = [Math.max(from, start), Math.min(to, end)];
      if (first >= last) continue;
      const part = sliceBlock(block, first - start, last - start);
      this.loudness.hear(part);
      this.spectrum.hear(part);
    }
  }

  conclude(room: readonly Block[]): Surrounding {
    return { loudnessLufs: this.loudness.conclude().integratedLufs, spectrum: this.spectrum.conclude(), room };
  }
}

/** What is heard of the chapter on both sides of a cut, in frames: nothing that is cut itself. */
export function windowsAround(cut: TimeCut, ordered: readonly TimeCut[], sampleRateHz: number): [number, number][] {
  const { startSeconds, endSeconds } = spanOf(cut);
  const [first, last] = [Math.max(0, startSeconds - SURROUNDING_SECONDS), endSeconds + SURROUNDING_SECONDS];
  const windows: [number, number][] = [];
  let from = first;
  for (const other of ordered) {
    const span = spanOf(other);
    if (span.endSeconds <= from || span.endSeconds === span.startSeconds) continue;
    if (span.startSeconds >= last) break;
    if (span.startSeconds > from) windows.push([from, span.startSeconds]);
    from = span.endSeconds;
  }
  if (from < last) windows.push([from, last]);
  return windows.map(([a, b]) => [Math.round(a * sampleRateHz), Math.round(b * sampleRateHz)]);
}

/** A stretch of another recording, in the chapter's rate and layout, with what lies on either side of it. */
export interface Taken {
  samples: Block;
  /** Frames of it that lie before the stretch itself. */
  before: number;
  frames: number;
}

/** Reads the stretches of some pick-ups out of their recording, in one reading. */
export async function takeStretches(
  pickUps: readonly PickUp[],
  source: Source,
  format: SignalFormat,
  signal?: CancelSignal,
): Promise<Taken[]> {
  const around = pickUps.map(({ fromSeconds, toSeconds }) => ({
    startSeconds: Math.max(0, fromSeconds - AROUND_SECONDS),
    endSeconds: toSeconds + AROUND_SECONDS,
  }));
  const read = await readStretches(source, around, { signal });
  return read.map((block, i) => {
    const { fromSeconds, toSeconds } = pickUps[i];
    const laidOut = changeLayout(block, source.format, format.channels);
    const { sampleRateHz } = format;
    const samples = resampled(laidOut, source.format.sampleRateHz, sampleRateHz);
    return {
      samples,
      before: Math.round((fromSeconds - around[i].startSeconds) * sampleRateHz),
      frames: Math.round((toSeconds - fromSeconds) * sampleRateHz),
    };
  });
}

/**
 * A pick-up as if it had been read with the chapter: its speech at the chapter's level, in its third octaves, over its room. What
 * is louder in its own room is taken down before, so that the tone is that of the voice; what is missing is laid under it after.
 */
export async function matched(
  taken: Taken,
  { matchLevel, matchTone, matchRoom }: Pick<PickUp, 'matchLevel' | 'matchTone' | 'matchRoom'>,
  surrounding: Surrounding,
  format: SignalFormat,
): Promise<Taken> {
  const { before, frames } = taken;
  const spoken = (block: Block) => sliceBlock(block, before, before + frames);
  const voiced = async (samples: Block) => {
    const tuned = matchTone ? await toned(samples, spoken, surrounding.spectrum, format) : samples;
    const gainDb = matchLevel ? gainTo(surrounding.loudnessLufs, spoken(tuned), format) : 0;
    return amplified(tuned, dbToGain(gainDb));
  };
  let samples = await voiced(taken.samples);
  if (matchRoom) {
    const wantedDb = roomLevelDb(surrounding.room, format);
    const own = ownRoom(taken.samples, format);
    const excess = () => (wantedDb === undefined ? 0 : (roomLevelDb(own(samples), format) ?? wantedDb) - wantedDb);
    // the tone lifts what is left of the noise as well: it takes some rounds, and the voice is not given for the last decibel
    let reductionDb = 0;
    for (let round = 0; round < MOST_ROUNDS && excess() > ENOUGH_DB; round++) {
      reductionDb = Math.min(MOST_ROOM_DB, reductionDb + excess());
      const settings = noiseReduction.settings.parse({ reductionDb });
      samples = await voiced(await through(noiseReduction, settings, taken.samples, format));
    }
    samples = withRoom(samples, own, surrounding.room, format);
  }
  return { ...taken, samples };
}

/** The gain that brings speech to a loudness. */
function gainTo(wantedLufs: number, speech: Block, format: SignalFormat): number {
  const meter = new LoudnessMeter(format);
  for (const block of longEnough(speech, format)) meter.hear(block);
  const gain = wantedLufs - meter.conclude().integratedLufs;
  return Number.isFinite(gain) ? Math.max(-MOST_GAIN_DB, Math.min(MOST_GAIN_DB, gain)) : 0;
}

/** A stretch that is heard again until a meter has enough of it. */
function longEnough(block: Block, { sampleRateHz }: SignalFormat): Block[] {
  const times = Math.ceil((LEAST_HEARD_SECONDS * sampleRateHz) / Math.max(1, framesOf(block)));
  return framesOf(block) ? Array.from({ length: times }, () => block) : [];
}

async function toned(
  samples: Block,
  spoken: (block: Block) => Block,
  { centresHz, loudDb }: LongTermSpectrum,
  format: SignalFormat,
): Promise<Block> {
  const reference = centresHz.flatMap((frequencyHz, b) => {
    const levelDb = loudDb[b];
    const known = levelDb !== null && frequencyHz >= REFERENCE_HZ[0] && frequencyHz <= REFERENCE_HZ[1];
    return known ? [{ frequencyHz, levelDb: Math.max(-200, levelDb) }] : [];
  });
  const meter = new SpectrumMeter(format);
  for (const block of longEnough(spoken(samples), format)) meter.hear(block);
  const heard = meter.conclude();
  const settings = toneMatch.settings.parse({ reference, amount: 1, rangeDb: MOST_TONE_DB });
  const findings = { centresHz: heard.centresHz, levelsDb: heard.loudDb };
  return through(toneMatch, settings, samples, format, findings);
}

/** A stretch with so much of a room laid under it that its own and that one together have that one's level. */
function withRoom(samples: Block, own: (block: Block) => Block[], room: readonly Block[], format: SignalFormat): Block {
  const wantedDb = roomLevelDb(room, format);
  const ownDb = roomLevelDb(own(samples), format);
  if (wantedDb === undefined || ownDb === undefined || ownDb >= wantedDb) return samples;
  const gain = Math.sqrt(1 - 10 ** ((ownDb - wantedDb) / 10));
  const fill = roomToneFill(room, framesOf(samples), format.channels, format.sampleRateHz);
  return samples.map((channel, c) => channel.map((x, i) => x + gain * fill[c][i]));
}

/** Where a stretch's own room sounds, to be read out of it before and after it is changed. */
function ownRoom(samples: Block, format: SignalFormat): (block: Block) => Block[] {
  const meter = new SpeechEdgeMeter(format);
  for (const block of inBlocks(samples, BLOCK_FRAMES)) meter.hear(block);
  const { sampleRateHz } = format;
  const middle = framesOf(samples) / 2 / sampleRateHz;
  const places = nearestStretches(roomStretches(meter.conclude(), undefined, []), middle);
  return (block) =>
    levelled(
      places.map(({ startSeconds, endSeconds }) =>
        sliceBlock(block, Math.round(startSeconds * sampleRateHz), Math.round(endSeconds * sampleRateHz)),
      ),
      format,
    );
}

async function through<S>(
  definition: AnyStep,
  settings: S,
  samples: Block,
  format: SignalFormat,
  findings?: Record<string, unknown>,
): Promise<Block> {
  const step: ConfiguredStep = { id: 'matching', definition, mix: 1, settings };
  const sink = new MemorySignal(format);
  const source = new MemorySignal(format, [...inBlocks(samples, BLOCK_FRAMES)]);
  await runChain(
    [step],
    source,
    () => sink,
    { openSpool: async (spooled) => new MemorySpool(spooled) },
    findings ? { matching: findings } : {},
  );
  return sink.joined();
}

const amplified = (block: Block, gain: number): Block => block.map((channel) => channel.map((x) => gain * x));

/** What is heard in its place, with what lies before and behind it for the joins. */
export function pickUpFilling({ samples, before, frames }: Taken): Filling {
  let at = before;
  return {
    frames,
    begin: (lead) => {
      at = before - lead;
    },
    take: (count) => {
      const block = framesFrom(samples, at, count);
      at += count;
      return block;
    },
  };
}

/** A stretch from some frame on; silence where it has no more. */
function framesFrom(block: Block, from: number, frames: number): Block {
  const out = emptyBlock(block.length, frames);
  const first = Math.max(0, from);
  const part = sliceBlock(block, first, Math.max(first, Math.min(framesOf(block), from + frames)));
  part.forEach((channel, c) => {
    out[c].set(channel, first - from);
  });
  return out;
}
