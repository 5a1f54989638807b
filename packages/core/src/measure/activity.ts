import { kernels, MOST_FRAMES, held as placed, RealFft } from '@tonos/kernels';
import { HalfBandDecimator } from '../dsp/half-band.ts';
import { powerToDb } from '../signal/decibels.ts';
import { cut } from '../signal/memory.ts';
import { type Block, framesOf, type SignalFormat } from '../signal/signal.ts';
import { subBlockStart } from './sub-blocks.ts';

/**
 * Where somebody speaks and where only the room sounds.
 *
 * Every 20 ms the signal is read in 16 bands, 100 Hz to 8 kHz. A band's own 10th percentile is its floor; the mean
 * excess of the bands over their floors, smoothed over 100 ms, is the score. Noise of any colour scores alike, which an
 * energy threshold does not give; speech scores where a few bands stand out. Memory: 17 bytes a frame, 31 MB in ten hours.
 */
const PER_SECOND = 50;
const BANDS = 16;
const LOWEST_HZ = 100;
const HIGHEST_HZ = 8000;
/** What is heard lies under this rate's half: higher rates are halved first, which spares half the work each time. */
const ENOUGH_HZ = 20000;
/** Band levels are kept in steps of 0.6 dB from -140 dB up. */
const STEP_DB = 0.6;
const BOTTOM_DB = -140;
/** No floor is taken to lie below this: dither is not speech. */
const LEAST_FLOOR_DB = -110;
const EXCESS_CAP_DB = 30;
/** Over the score of the quietest fifth: speech begins, speech goes on. */
const BEGIN_DB = 4;
const GO_ON_DB = 2;
const LEAST_SPEECH_FRAMES = 4;
const BRIDGED_GAP_FRAMES = 8;

/** Frames kept away from speech on either side of room tone: word ends ring on, breaths come before. */
const GUARD_FRAMES = 8;
const LEAST_TONE_SECONDS = 0.4;
const MOST_TONES = 20;

export interface RoomTone {
  startSeconds: number;
  endSeconds: number;
  rmsDbfs: number;
  confidence: number;
}

export interface ActivityFigures {
  speech: { startSeconds: number; endSeconds: number }[];
  roomTone: RoomTone[];
  /** Mean spectrum of the speech, in dB a band, or undefined where there is none. */
  speechBandsDb: number[] | undefined;
  bandEdgesHz: readonly number[];
  /** Level of speech per second of it, in dBFS, for judging how even it is. */
  speechLevelsDb: number[];
}

interface Run {
  start: number;
  end: number;
}

export class ActivityMeter {
  private readonly kernel = kernels();
  private readonly fft: RealFft;
  private readonly edges: Int32Array;
  readonly bandEdgesHz: number[];
  private readonly held: Float32Array[];
  private readonly halvings: HalfBandDecimator[][];
  private readonly halved: [Float32Array, Float32Array];
  private readonly bandPowers = new Float64Array(BANDS);
  private frame = 0;
  private energy = 0;
  private nextEnd: number;
  private index = 0;
  private bands = new Uint8Array(BANDS * 4096);
  private powers = new Float32Array(4096);

  constructor(private readonly format: SignalFormat) {
    const halvings = Math.max(0, Math.floor(Math.log2(format.sampleRateHz / ENOUGH_HZ)));
    const rate = format.sampleRateHz / 2 ** halvings;
    this.halvings = Array.from({ length: format.channels }, () =>
      Array.from({ length: halvings }, () => new HalfBandDecimator()),
    );
    const size = 2 ** Math.round(Math.log2(rate * 0.032));
    this.fft = new RealFft(size);
    const most = Math.ceil(format.sampleRateHz / PER_SECOND) + 1;
    this.halved = [new Float32Array(most), new Float32Array(most)];
    this.held = Array.from({ length: format.channels }, () => new Float32Array(size));
    const top = Math.min(HIGHEST_HZ, 0.45 * rate);
    this.bandEdgesHz = Array.from({ length: BANDS + 1 }, (_, b) => LOWEST_HZ * (top / LOWEST_HZ) ** (b / BANDS));
    this.edges = Int32Array.from(this.bandEdgesHz, (hz) => Math.round((hz * size) / rate));
    for (let b = 1; b <= BANDS; b++) this.edges[b] = Math.max(this.edges[b], this.edges[b - 1] + 1);
    this.nextEnd = subBlockStart(1, format.sampleRateHz, PER_SECOND);
  }

  hear(block: Block): void {
    for (const piece of cut(block, MOST_FRAMES)) this.hearPiece(piece);
  }

  private hearPiece(block: Block): void {
    const frames = framesOf(block);
    const places = block.map((channel, c) => placed(channel, c));
    let start = 0;
    while (start < frames) {
      const end = Math.min(frames, start + this.nextEnd - this.frame);
      for (let c = 0; c < block.length; c++) {
        this.energy += this.kernel.energy(places[c] + 4 * start, end - start);
        this.take(c, block[c].subarray(start, end));
      }
      this.frame += end - start;
      start = end;
      if (this.frame === this.nextEnd) this.readFrame();
    }
  }

  /** Puts samples, at the rate that is enough, behind those held of a channel. */
  private take(channel: number, samples: Float32Array): void {
    let from = samples;
    this.halvings[channel].forEach((halving, stage) => {
      const out = this.halved[stage % 2];
      from = out.subarray(0, halving.push(from, out));
    });
    const held = this.held[channel];
    const kept = from.subarray(Math.max(0, from.length - held.length));
    held.copyWithin(0, kept.length);
    held.set(kept, held.length - kept.length);
  }

  conclude(): ActivityFigures {
    const count = this.index;
    const floors = this.bandFloors(count);
    const score = this.scores(count, floors);
    const speech = findSpeech(score, this.powers, count);
    const seconds = (frame: number) => frame / PER_SECOND;
    return {
      speech: speech.map((run) => ({ startSeconds: seconds(run.start), endSeconds: seconds(run.end) })),
      roomTone: this.findRoomTone(speech, count),
      speechBandsDb: this.meanBands(speech),
      bandEdgesHz: this.bandEdgesHz,
      speechLevelsDb: this.speechLevels(speech),
    };
  }

  private readFrame(): void {
    const { fft, edges, index } = this;
    if (index === this.powers.length) this.grow();
    const size = fft.size;
    const rate = this.format.sampleRateHz;
    const fresh = subBlockStart(index + 1, rate, PER_SECOND) - subBlockStart(index, rate, PER_SECOND);
    const bandPowers = this.bandPowers.fill(0);
    for (const held of this.held) fft.addBandPowers(held, 'hann', edges, bandPowers);
    // a full-scale sine reads -3 dB: |X|^2 of a Hann window is (size / 4)^2, spread over bins by 1.5
    const scale = (8 / 3 / size / size) * (1 / this.held.length);
    for (let b = 0; b < BANDS; b++) {
      const db = powerToDb(bandPowers[b] * scale + 1e-20);
      this.bands[index * BANDS + b] = Math.max(0, Math.min(255, Math.round((db - BOTTOM_DB) / STEP_DB)));
    }
    this.powers[index] = this.energy / (fresh * this.held.length);
    this.energy = 0;
    this.index++;
    this.nextEnd = subBlockStart(this.index + 1, this.format.sampleRateHz, PER_SECOND);
  }

  private grow(): void {
    const bands = new Uint8Array(this.bands.length * 2);
    bands.set(this.bands);
    this.bands = bands;
    const powers = new Float32Array(this.powers.length * 2);
    powers.set(this.powers);
    this.powers = powers;
  }

  private bandFloors(count: number): Float64Array {
    const floors = new Float64Array(BANDS);
    const least = (LEAST_FLOOR_DB - BOTTOM_DB) / STEP_DB;
    for (let b = 0; b < BANDS; b++) {
      const histogram = new Uint32Array(256);
      for (let i = 0; i < count; i++) histogram[this.bands[i * BANDS + b]]++;
      let seen = 0;
      let level = 0;
      while (level < 255 && seen + histogram[level] <= 0.1 * count) seen += histogram[level++];
      floors[b] = Math.max(level, least);
    }
    return floors;
  }

  /** The smoothed mean excess in dB, one value a frame. */
  private scores(count: number, floors: Float64Array): Float32Array {
    const raw = new Float32Array(count);
    for (let i = 0; i < count; i++) {
      let sum = 0;
      for (let b = 0; b < BANDS; b++) {
        const excess = (this.bands[i * BANDS + b] - floors[b]) * STEP_DB;
        if (excess > 0) sum += excess < EXCESS_CAP_DB ? excess : EXCESS_CAP_DB;
      }
      raw[i] = sum / BANDS;
    }
    const smooth = new Float32Array(count);
    for (let i = 0; i < count; i++) {
      let sum = 0;
      let weight = 0;
      for (let k = Math.max(0, i - 2); k <= Math.min(count - 1, i + 2); k++) {
        const w = 3 - Math.abs(k - i);
        sum += w * raw[k];
        weight += w;
      }
      smooth[i] = sum / weight;
    }
    return smooth;
  }

  private findRoomTone(speech: readonly Run[], count: number): RoomTone[] {
    const speechDb = medianDb(speech.flatMap((run) => Array.from(this.powers.subarray(run.start, run.end))));
    const found: RoomTone[] = [];
    let start = 0;
    for (const next of [...speech, { start: count, end: count }]) {
      const from = start === 0 ? 0 : start + GUARD_FRAMES;
      const to = next.start === count ? count : next.start - GUARD_FRAMES;
      found.push(...this.steadyRuns(from, to).map((run) => this.judgeTone(run, speechDb)));
      start = next.end;
    }
    return found
      .filter((tone) => tone.confidence >= 0.2)
      .sort((a, b) => b.confidence - a.confidence || a.startSeconds - b.startSeconds)
      .slice(0, MOST_TONES);
  }

  /** Parts of a gap without digital silence that are long enough. */
  private steadyRuns(from: number, to: number): Run[] {
    const runs: Run[] = [];
    let start = from;
    for (let i = from; i <= to; i++) {
      if (i < to && this.powers[i] > 1e-14) continue;
      if (i - start >= LEAST_TONE_SECONDS * PER_SECOND) runs.push({ start, end: i });
      start = i + 1;
    }
    return runs;
  }

  /** Confidence: long enough, steady, and well below the speech. */
  private judgeTone({ start, end }: Run, speechDb: number | undefined): RoomTone {
    const powers = this.powers.subarray(start, end);
    const rmsDbfs = powerToDb(powers.reduce((sum, power) => sum + power, 0) / powers.length);
    const levels = Array.from(powers, powerToDb);
    const average = levels.reduce((sum, level) => sum + level, 0) / levels.length;
    const spread = Math.sqrt(levels.reduce((sum, level) => sum + (level - average) ** 2, 0) / levels.length);
    const length = Math.min(1, (end - start) / PER_SECOND);
    const steady = Math.max(0, Math.min(1, (6 - spread) / 4));
    const below = speechDb === undefined ? 1 : Math.max(0, Math.min(1, (speechDb - rmsDbfs) / 10));
    return {
      startSeconds: start / PER_SECOND,
      endSeconds: end / PER_SECOND,
      rmsDbfs,
      confidence: Math.round(length * steady * below * 100) / 100,
    };
  }

  private meanBands(speech: readonly Run[]): number[] | undefined {
    if (!speech.length) return undefined;
    const sums = new Float64Array(BANDS);
    let frames = 0;
    for (const { start, end } of speech) {
      for (let i = start; i < end; i++) {
        for (let b = 0; b < BANDS; b++) sums[b] += 10 ** ((this.bands[i * BANDS + b] * STEP_DB + BOTTOM_DB) / 10);
        frames++;
      }
    }
    return Array.from(sums, (sum) => powerToDb(sum / frames));
  }

  private speechLevels(speech: readonly Run[]): number[] {
    const levels: number[] = [];
    let energy = 0;
    let frames = 0;
    for (const { start, end } of speech) {
      for (let i = start; i < end; i++) {
        energy += this.powers[i];
        if (++frames < PER_SECOND) continue;
        levels.push(powerToDb(energy / frames));
        energy = 0;
        frames = 0;
      }
    }
    return levels;
  }
}

function medianDb(powers: number[]): number | undefined {
  if (!powers.length) return undefined;
  powers.sort((a, b) => a - b);
  return powerToDb(powers[powers.length >> 1]);
}

/** Speech by hysteresis on the score; short gaps are bridged, short bursts left out. */
function findSpeech(score: Float32Array, powers: Float32Array, count: number): Run[] {
  const sounding = score.filter((_, i) => powers[i] > 1e-14).sort();
  const base = sounding.length === count && count ? sounding[Math.floor(0.2 * count)] : 0;
  const runs: Run[] = [];
  let start = -1;
  let strong = false;
  for (let i = 0; i <= count; i++) {
    const s = i < count ? score[i] - base : Number.NEGATIVE_INFINITY;
    if (s > GO_ON_DB) {
      if (start < 0) start = i;
      if (s > BEGIN_DB) strong = true;
    } else if (start >= 0) {
      const last = runs.at(-1);
      if (strong && last && start - last.end <= BRIDGED_GAP_FRAMES) last.end = i;
      else if (strong && i - start >= LEAST_SPEECH_FRAMES) runs.push({ start, end: i });
      start = -1;
      strong = false;
    }
  }
  return runs;
}
