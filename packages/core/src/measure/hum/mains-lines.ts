import { hann, kernels, held as placed, RealFft } from '@tonos/kernels';
import { byRate } from '../../dsp/by-rate.ts';
import { halvingsTo } from '../../dsp/halvings.ts';

/**
 * One channel's mains lines at about 6 kHz, in frames of 0.4 s under a Hann window, one every 0.1 s: for every multiple of 50 and of
 * 60 Hz the complex value at just that frequency, turned back to the start of the recording, and the mean power beside it.
 */
export const MAINS_HZ = [50, 60] as const;
export const HARMONICS = 40;
export const FRAME_SECONDS = 0.4;
export const HOPS_PER_SECOND = 10;
/** Equivalent noise bandwidth of the window in Hz. */
export const WINDOW_BANDWIDTH_HZ = 1.5 / FRAME_SECONDS;
/** Enough for the highest multiple, and for the decimator to be flat there. */
const LEAST_RATE_HZ = 5400;
/** Where the floor beside a line is read, in multiples of the mains. */
const BESIDE = [-0.5, -0.4, -0.35, 0.35, 0.4, 0.5];
/** Multiples between which the voice is heard: its own lines seldom lie just there. */
const VOICE_FROM = 2;
/** Rumble lies between these. */
const [LEAST_LOW_HZ, LOW_HZ] = [8, 70];
/** Multiples that a spectrum alone is asked for, and 6 dB. */
const LOOKED_AT = 16;
const STANDS = 4;

/** What one frame holds of one mains: `HARMONICS` values each. */
export interface LineFrame {
  re: Float32Array;
  im: Float32Array;
  /** Mean power beside each line. */
  beside: Float32Array;
  /** Mean log power (natural) between the lines: how loud the voice is. */
  voice: number;
}

interface Table {
  cos: Float32Array;
  sin: Float32Array;
}

/** Where lines are read at a rate. */
export class LineTables {
  readonly rate: number;
  readonly halvings: number;
  readonly frame: number;
  readonly hop: number;
  readonly window: Float64Array;
  /** Sum of its squares. */
  readonly windowPower: number;
  readonly fft: RealFft;
  /** For each mains, by multiple: the bin that holds it, and those beside it. */
  readonly looks: readonly Int32Array[];
  private readonly tables: Table[][] = MAINS_HZ.map(() => []);

  constructor(sampleRateHz: number) {
    this.halvings = halvingsTo(sampleRateHz, LEAST_RATE_HZ);
    this.rate = sampleRateHz / 2 ** this.halvings;
    this.frame = Math.round(FRAME_SECONDS * this.rate);
    this.hop = Math.round(this.rate / HOPS_PER_SECOND);
    this.window = hann(this.frame);
    this.windowPower = this.window.reduce((sum, w) => sum + w * w, 0);
    this.fft = new RealFft(2 ** Math.ceil(Math.log2(this.frame)));
    const { size } = this.fft;
    this.looks = MAINS_HZ.map((hz) =>
      Int32Array.from(
        Array.from({ length: LOOKED_AT }, (_, i) => [0, ...BESIDE].map((offset) => i + 1 + offset)).flat(),
        (multiple) => Math.round((multiple * hz * size) / this.rate),
      ),
    );
  }

  /** Made when a line is read for the first time: where nothing hums none is. */
  tableOf(mains: number, harmonic: number): Table {
    const known = this.tables[mains][harmonic];
    if (known) return known;
    const turn = (2 * Math.PI * harmonic * MAINS_HZ[mains]) / this.rate;
    const { window, frame } = this;
    const [cos, sin] = [new Float32Array(frame), new Float32Array(frame)];
    // a plain loop: all tables together are 400,000 values, for which `from` would call and throw away as many objects
    for (let k = 0; k < frame; k++) {
      cos[k] = window[k] * Math.cos(turn * k);
      sin[k] = -window[k] * Math.sin(turn * k);
    }
    this.tables[mains][harmonic] = { cos, sin };
    return this.tables[mains][harmonic];
  }
}

/** By the rate that is heard. */
export const lineTables = byRate((sampleRateHz) => new LineTables(sampleRateHz));

export class MainsLines {
  private readonly held: Float32Array;
  private readonly padded: Float32Array;
  private readonly power: Float32Array;
  private filled = 0;
  /** Frames so far, whether read or not. */
  index = 0;
  private transformed = -1;

  constructor(private readonly tables: LineTables) {
    this.held = new Float32Array(tables.frame);
    const { size, bins } = tables.fft;
    this.padded = new Float32Array(size);
    this.power = new Float32Array(bins);
  }

  /** @param samples at the tables' rate; @param ended is called at the end of every frame, which `read` then gives */
  push(samples: Float32Array, ended: (index: number) => void): void {
    const { hop, frame } = this.tables;
    for (let start = 0; start < samples.length; ) {
      const count = Math.min(hop - this.filled, samples.length - start);
      this.held.set(samples.subarray(start, start + count), frame - hop + this.filled);
      this.filled += count;
      start += count;
      if (this.filled < hop) continue;
      this.filled = 0;
      ended(this.index);
      this.index++;
      this.held.copyWithin(0, hop);
    }
  }

  /** Mean square of what lies under 70 Hz in the frame. */
  lowPower(): number {
    const { rate, windowPower, fft } = this.tables;
    this.transform();
    let sum = 0;
    const top = Math.round((LOW_HZ * fft.size) / rate);
    for (let k = Math.max(1, Math.round((LEAST_LOW_HZ * fft.size) / rate)); k <= top; k++) sum += this.power[k];
    return (2 * sum) / (fft.size * windowPower);
  }

  /** Whether two multiples stand out of what lies beside them, by a spectrum alone. */
  standsOut(mains: number): boolean {
    const { power } = this;
    this.transform();
    let lines = 0;
    const bins = this.tables.looks[mains];
    const each = 1 + BESIDE.length;
    for (let from = 0; from < bins.length; from += each) {
      const own = power[bins[from]];
      let beside = 0;
      for (let k = from + 1; k < from + each; k++) beside += power[bins[k]];
      beside /= BESIDE.length;
      if (own > STANDS ** 2 * beside || (own > STANDS * beside && ++lines > 1)) return true;
    }
    return false;
  }

  get meanSquare(): number {
    return kernels().energy(placed(this.held), this.held.length) / this.held.length;
  }

  /** The frame that ends now. @param mains which of `MAINS_HZ`; @param harmonics how many of its multiples, the rest is left 0 */
  read(mains: number, harmonics: number = HARMONICS): LineFrame {
    const { rate, hop, frame } = this.tables;
    const frameOf: LineFrame = {
      re: new Float32Array(HARMONICS),
      im: new Float32Array(HARMONICS),
      beside: new Float32Array(HARMONICS),
      voice: 0,
    };
    const hz = MAINS_HZ[mains];
    const startSeconds = ((this.index + 1) * hop - frame) / rate;
    const { product } = kernels();
    const samples = placed(this.held);
    for (let i = 0; i < harmonics; i++) {
      const { cos, sin } = this.tables.tableOf(mains, i + 1);
      const re = product(samples, placed(cos, 1), frame);
      const im = product(samples, placed(sin, 1), frame);
      const turn = -2 * Math.PI * (((i + 1) * hz * startSeconds) % 1);
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      frameOf.re[i] = re * c - im * s;
      frameOf.im[i] = re * s + im * c;
    }
    this.readBeside(hz, frameOf);
    return frameOf;
  }

  /** The frame's spectrum, once. */
  private transform(): void {
    if (this.transformed === this.index) return;
    this.transformed = this.index;
    const { frame, window, fft } = this.tables;
    const { padded, power } = this;
    for (let k = 0; k < frame; k++) padded[k] = this.held[k] * window[k];
    fft.powersOf(padded, power);
  }

  private readBeside(hz: number, into: LineFrame): void {
    const { rate, fft } = this.tables;
    const { power } = this;
    this.transform();
    const at = (multiple: number) => power[Math.round((multiple * hz * fft.size) / rate)] ?? 0;
    let logs = 0;
    for (let i = 0; i < HARMONICS; i++) {
      let sum = 0;
      for (const offset of BESIDE) sum += at(i + 1 + offset);
      into.beside[i] = sum / BESIDE.length;
      if (i + 1 >= VOICE_FROM) logs += Math.log(at(i + 1.4) + at(i + 1.5) + at(i + 1.6) + 1e-20);
    }
    into.voice = logs / (HARMONICS - VOICE_FROM + 1);
  }
}
