import { Halvings } from '../../dsp/halvings.ts';
import { median, quantile } from '../../dsp/quantile.ts';
import { type FramePair, findLines, type Hum, quietPairs, strongest } from '../../measure/hum/find-lines.ts';
import {
  FRAME_SECONDS,
  HOPS_PER_SECOND,
  type LineFrame,
  type LineTables,
  lineTables,
  MAINS_HZ,
  MainsLines,
} from '../../measure/hum/mains-lines.ts';
import { cut } from '../../signal/memory.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import type { Study } from '../step.ts';
import { type HumFindings, NO_HUM, THETA_SECONDS } from './hum-findings.ts';
import { lineAmplitudes } from './line-amplitudes.ts';
import { type LineTrack, mainsPhase } from './mains-phase.ts';

/** Hum is looked for in stretches of half a minute; what lies before the first that has some is kept for two minutes. */
const STRETCH_FRAMES = 300;
const KEPT_STRETCHES = 4;
const FIRST_FULL_FRAME = Math.ceil(FRAME_SECONDS * HOPS_PER_SECOND) - 1;
const ROUNDS = 3;
const PIECE_FRAMES = 4096;
/** So much of a recording is quiet, if anything. */
const QUIET_SHARE = 0.2;

/**
 * Finds mains hum between words and follows its phase through the whole. Only a recording that hums is kept: 40 lines in frames of
 * 0.1 s, 17 MB an hour and channel.
 */
export class HumStudy implements Study<HumFindings> {
  private readonly tables: LineTables;
  private readonly halvings: Halvings[];
  private readonly readers: MainsLines[];
  /** By mains and channel: frames from `firstFrame` on. */
  private readonly frames: LineFrame[][][];
  private firstFrame = FIRST_FULL_FRAME;
  private possible: number[];

  constructor(
    private readonly format: SignalFormat,
    mainsHz: 'auto' | 50 | 60,
  ) {
    this.tables = lineTables(format.sampleRateHz);
    this.possible = MAINS_HZ.flatMap((hz, mains) => (mainsHz === 'auto' || mainsHz === hz ? [mains] : []));
    this.readers = Array.from({ length: format.channels }, () => new MainsLines(this.tables));
    this.halvings = this.readers.map(() => new Halvings(this.tables.halvings));
    this.frames = MAINS_HZ.map(() => this.readers.map(() => []));
  }

  hear(block: Block): void {
    for (const piece of cut(block, PIECE_FRAMES)) this.hearPiece(piece);
  }

  private hearPiece(block: Block): void {
    block.forEach((channel, c) => {
      this.readers[c].push(this.halvings[c].push(channel), (index) => {
        if (index < FIRST_FULL_FRAME) return;
        for (const mains of this.possible) this.frames[mains][c].push(this.readers[c].read(mains));
        if (c === block.length - 1 && (index + 1) % STRETCH_FRAMES === 0) this.endStretch();
      });
    });
  }

  conclude(): HumFindings {
    const hum = strongest(this.possible.map((mains) => this.humIn(mains, 0)));
    return hum ? this.follow(hum) : NO_HUM;
  }

  /** Once the mains is known the other is not read any more; while none is, the oldest stretches are let go. */
  private endStretch(): void {
    const held = this.frames[this.possible[0]][0].length;
    if (this.possible.length > 1 || held > KEPT_STRETCHES * STRETCH_FRAMES) {
      const hum = strongest(this.possible.map((mains) => this.humIn(mains, Math.max(0, held - STRETCH_FRAMES))));
      if (hum) {
        for (const mains of this.possible) if (mains !== hum.mains) this.frames[mains] = this.readers.map(() => []);
        this.possible = [hum.mains];
      } else if (this.possible.length > 1 && held >= KEPT_STRETCHES * STRETCH_FRAMES) {
        for (const mains of this.possible) for (const one of this.frames[mains]) one.splice(0, STRETCH_FRAMES);
        this.firstFrame += STRETCH_FRAMES;
      }
    }
  }

  /** Hum in any channel, from a frame on. */
  private humIn(mains: number, from: number): Hum | undefined {
    return strongest(
      this.frames[mains].map((frames) => {
        const pairs: FramePair[] = [];
        for (let t = Math.max(1, from); t < frames.length; t++) pairs.push({ first: frames[t - 1], second: frames[t] });
        return findLines(quietPairs(pairs), mains);
      }),
    );
  }

  private follow({ mains, mainsHz, lines }: Hum): HumFindings {
    const { rate, hop, frame } = this.tables;
    const hopSeconds = hop / rate;
    const channels = this.frames[mains];
    const count = channels[0].length;
    // the first frame that is kept ended so many hops after the start
    const middleOf = (t: number) => ((this.firstFrame + t + 1) * hop - frame / 2) / rate;
    const tracksOf = (frames: readonly LineFrame[]): LineTrack[] =>
      lines.map(({ harmonic }) => this.trackOf(frames, harmonic, mains, mainsHz, middleOf));
    const tracks = channels.map(tracksOf);
    for (const own of tracks) weigh(own);
    const all = tracks.flat();
    const loudest = [...all].sort((a, b) => clearness(b) - clearness(a))[0];
    begin(loudest);
    let phase = mainsPhase([loudest], count, hopSeconds);
    for (let round = 0; round < ROUNDS; round++) {
      for (const track of all) settle(track, phase.theta);
      phase = mainsPhase(all, count, hopSeconds);
    }
    for (const track of all) unlean(track, phase.rate, mainsHz, MAINS_HZ[mains]);
    const step = Math.max(1, Math.round(THETA_SECONDS / hopSeconds));
    const amplitudes = tracks.map((own) =>
      own.map((track) => lineAmplitudes(track, phase.theta, hopSeconds, this.responseAt(track.harmonic * mainsHz))),
    );
    return {
      mainsHz: rounded(mainsHz, 1e6),
      lines: lines.map(({ harmonic, hz, excessDb }) => ({ harmonic, hz: rounded(hz, 1e4), excessDb })),
      startSeconds: middleOf(0),
      thetaSeconds: step * hopSeconds,
      theta: Array.from({ length: Math.ceil(count / step) }, (_, i) => rounded(phase.theta[i * step], 1e4)),
      amplitudes,
    };
  }

  /** A line's values turned from its nominal frequency to that of this recording. */
  private trackOf(
    frames: readonly LineFrame[],
    harmonic: number,
    mains: number,
    mainsHz: number,
    middleOf: (t: number) => number,
  ): LineTrack {
    const [re, im, beside] = [0, 1, 2].map(() => new Float64Array(frames.length));
    frames.forEach((frame, t) => {
      const turn = -2 * Math.PI * ((harmonic * (mainsHz - MAINS_HZ[mains]) * middleOf(t)) % 1);
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const [a, b] = [frame.re[harmonic - 1], frame.im[harmonic - 1]];
      re[t] = a * c - b * s;
      im[t] = a * s + b * c;
      beside[t] = frame.beside[harmonic - 1];
    });
    return { harmonic, re, im, beside, weight: new Float64Array(frames.length), own: { re: 0, im: 0 } };
  }

  /** What the decimator makes of a tone, and what its amplitude is to the window's sum. */
  private responseAt(hz: number): { re: number; im: number } {
    const { sampleRateHz } = this.format;
    const { halvings, window } = this.tables;
    const w = (2 * Math.PI * hz) / sampleRateHz;
    const through = (wave: (x: number) => number) =>
      new Halvings(halvings).push(Float32Array.from({ length: PIECE_FRAMES }, (_, i) => wave(w * i)));
    const [cosine, sine] = [through(Math.cos), through(Math.sin)];
    const at = Math.min(cosine.length - 1, 64);
    const turn = -w * at * 2 ** halvings;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const half = window.reduce((sum, x) => sum + x, 0) / 2;
    return { re: half * (cosine[at] * c - sine[at] * s), im: half * (cosine[at] * s + sine[at] * c) };
  }
}

const rounded = (value: number, by: number): number => Math.round(value * by) / by;

const meanOf = (values: Float64Array): number => values.reduce((sum, x) => sum + x, 0) / values.length;

/** By how little lies beside a line, and beside all: a voice whose own line falls onto one of the mains is seen beside the others. */
function weigh(tracks: readonly LineTrack[]): void {
  const least = tracks.map(({ beside }) => quantile(beside, QUIET_SHARE)! + 1e-20);
  for (let t = 0; t < tracks[0].re.length; t++) {
    let cover = 0;
    tracks.forEach(({ beside }, l) => {
      cover += Math.max(1, beside[t] / least[l]) / tracks.length;
    });
    tracks.forEach(({ beside, weight }, l) => {
      weight[t] = 1 / Math.max(least[l] * cover, beside[t]);
    });
  }
}

/** How far a line stands out of the floor beside it, in its clearest half. */
function clearness({ re, im, beside }: LineTrack): number {
  const over = re.map((x, t) => (x * x + im[t] * im[t]) / (beside[t] + 1e-20)).sort();
  return meanOf(over.subarray(over.length >> 1).map((x) => Math.min(1e4, x)));
}

/** A line's first value: as large as where it is clear, turned as in the first frame in which it is. */
function begin(track: LineTrack): void {
  const { re, im, beside } = track;
  const clear = [...re.keys()].filter((t) => re[t] ** 2 + im[t] ** 2 > 10 * beside[t]);
  const size = median((clear.length ? clear : [0]).map((t) => Math.hypot(re[t], im[t])))!;
  const first = clear.find((t) => Math.hypot(re[t], im[t]) < 1.4 * size) ?? 0;
  const turn = Math.atan2(im[first], re[first]);
  track.own = { re: size * Math.cos(turn), im: size * Math.sin(turn) };
}

/** What a line is where theta is 0: the mean, by how little lies beside it. */
function settle(track: LineTrack, theta: Float64Array): void {
  const { re, im, weight: trust, harmonic } = track;
  let [sumRe, sumIm, weights] = [0, 0, 0];
  for (let t = 0; t < theta.length; t++) {
    const weight = trust[t];
    const [c, s] = [Math.cos(harmonic * theta[t]), Math.sin(harmonic * theta[t])];
    sumRe += weight * (re[t] * c + im[t] * s);
    sumIm += weight * (im[t] * c - re[t] * s);
    weights += weight;
  }
  track.own = { re: sumRe / weights, im: sumIm / weights };
}

/** The window weighs a line less that has gone off its nominal frequency: Hann's response is sinc x / (1 - x^2). */
function unlean({ re, im, harmonic }: LineTrack, rate: Float64Array, mainsHz: number, nominalHz: number): void {
  for (let t = 0; t < re.length; t++) {
    const x = FRAME_SECONDS * harmonic * (mainsHz - nominalHz + rate[t] / (2 * Math.PI));
    const lean = Math.abs(x) < 1e-3 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x) / (1 - x * x);
    re[t] /= Math.max(0.2, lean);
    im[t] /= Math.max(0.2, lean);
  }
}
