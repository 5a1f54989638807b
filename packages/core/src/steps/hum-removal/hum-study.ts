import { hann, RealFft } from '@tonos/kernels';
import { powerToDb } from '../../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';

export interface HumLine {
  hz: number;
  /** How far it stands out of what lies around it. */
  excessDb: number;
}

const MOST_HARMONICS = 40;
const HIGHEST_HZ = 60 * MOST_HARMONICS + 20;
/** A line is one from here on; a lone one must stand out further. */
const LINE_DB = 9;
const LONE_LINE_DB = 15;
/** Bins around a line that are the line's own, and those that are its surroundings. */
const OWN_BINS = 3;
const AROUND_BINS = 14;
/** Mains wander by no more than this. */
const WANDER_HZ = 0.6;

/**
 * Finds the mains frequency and its harmonics in spectra of about 1.4 s. Quiet spectra count more, since every spectrum is weighed by its own
 * energy. Between two spectra half a length apart the phase of a line moves on by its frequency: from that it is known to a
 * few thousandths of a hertz, where a bin is 0.7 Hz wide.
 */
export class HumStudy {
  private readonly size: number;
  private readonly hop: number;
  private readonly fft: RealFft;
  private readonly window: Float64Array;
  private readonly held: Float32Array[];
  private readonly last: { re: Float64Array; im: Float64Array }[];
  private readonly samples: Float32Array;
  private readonly re: Float32Array;
  private readonly im: Float32Array;
  private readonly bins: number;
  private readonly power: Float64Array;
  /** Sum of X(now) conj X(before). */
  private readonly turnRe: Float64Array;
  private readonly turnIm: Float64Array;
  private filled = 0;
  private spectra = 0;

  constructor(private readonly format: SignalFormat) {
    const rate = format.sampleRateHz;
    this.size = 2 ** Math.ceil(Math.log2(rate));
    this.hop = this.size / 2;
    this.fft = new RealFft(this.size);
    this.window = hann(this.size);
    this.bins = Math.min(this.fft.bins, Math.ceil((HIGHEST_HZ * this.size) / rate));
    const each = <T>(make: () => T) => Array.from({ length: format.channels }, make);
    this.held = each(() => new Float32Array(this.size));
    this.last = each(() => ({ re: new Float64Array(this.bins), im: new Float64Array(this.bins) }));
    this.samples = new Float32Array(this.size);
    this.re = new Float32Array(this.fft.bins);
    this.im = new Float32Array(this.fft.bins);
    this.power = new Float64Array(this.bins);
    this.turnRe = new Float64Array(this.bins);
    this.turnIm = new Float64Array(this.bins);
  }

  hear(block: Block): void {
    const frames = framesOf(block);
    for (let start = 0; start < frames; ) {
      const count = Math.min(frames - start, this.hop - this.filled);
      block.forEach((channel, c) => {
        const held = this.held[c];
        const at = this.hop + this.filled;
        held.set(channel.subarray(start, start + count), at);
      });
      this.filled += count;
      start += count;
      if (this.filled === this.hop) this.endHop();
    }
  }

  /** The stronger of the mains that are possible, with its lines; undefined where there is none. */
  conclude(possible: readonly number[]): { mainsHz: number; lines: HumLine[] } | undefined {
    if (this.spectra < 2) return undefined;
    const found = possible
      .map((mains) => this.linesOf(mains))
      .filter(({ lines }) => lines.length > 1 || (lines[0]?.excessDb ?? 0) >= LONE_LINE_DB)
      .map((one) => ({ ...one, strength: one.lines.reduce((sum, { excessDb }) => sum + excessDb, 0) }))
      .sort((a, b) => b.strength - a.strength);
    if (!found.length) return undefined;
    const [{ mainsHz, lines }] = found;
    return { mainsHz, lines };
  }

  private endHop(): void {
    const { size, samples, window, re, im, bins } = this;
    this.filled = 0;
    this.held.forEach((held, c) => {
      let energy = 1e-12;
      for (let i = 0; i < size; i++) {
        samples[i] = held[i] * window[i];
        energy += samples[i] * samples[i];
      }
      held.copyWithin(0, this.hop);
      this.fft.forward(samples, re, im);
      const last = this.last[c];
      for (let k = 0; k < bins; k++) {
        // the first spectrum has half a length of nothing before it
        if (this.spectra > 0) {
          this.power[k] += (re[k] * re[k] + im[k] * im[k]) / energy;
          if (this.spectra > 1) {
            this.turnRe[k] += (re[k] * last.re[k] + im[k] * last.im[k]) / energy;
            this.turnIm[k] += (im[k] * last.re[k] - re[k] * last.im[k]) / energy;
          }
        }
        last.re[k] = re[k];
        last.im[k] = im[k];
      }
    });
    this.spectra++;
  }

  private linesOf(nominal: number): { mainsHz: number; lines: HumLine[] } {
    const seen = Array.from({ length: MOST_HARMONICS }, (_, i) => i + 1).flatMap((n) => {
      const line = this.lineNear(n * nominal, Math.min(3, n * WANDER_HZ));
      return line ? [{ n, ...line }] : [];
    });
    // higher harmonics tell the mains frequency more finely, stronger ones more surely
    let weighed = 0;
    let weights = 0;
    for (const { n, hz, excessDb } of seen) {
      const weight = n * n * excessDb;
      weighed += (weight * hz) / n;
      weights += weight;
    }
    const mainsHz = weights ? weighed / weights : nominal;
    const own = seen.filter(({ n, hz }) => Math.abs(hz - n * mainsHz) < 0.25 + 0.02 * n);
    return { mainsHz, lines: own.map(({ hz, excessDb }) => ({ hz, excessDb: Math.round(excessDb * 10) / 10 })) };
  }

  private lineNear(hz: number, withinHz: number): HumLine | undefined {
    const { power, size } = this;
    const rate = this.format.sampleRateHz;
    const from = Math.max(1, Math.floor(((hz - withinHz) * size) / rate));
    const to = Math.ceil(((hz + withinHz) * size) / rate);
    if (to + AROUND_BINS >= this.bins) return undefined;
    let peak = from;
    for (let k = from; k <= to; k++) if (power[k] > power[peak]) peak = k;
    const around: number[] = [];
    for (let d = OWN_BINS + 1; d <= AROUND_BINS; d++) {
      around.push(power[peak + d]);
      if (peak - d > 0) around.push(power[peak - d]);
    }
    around.sort((a, b) => a - b);
    const excessDb = powerToDb(power[peak] / (around[around.length >> 1] + 1e-30));
    if (excessDb < LINE_DB) return undefined;
    // bin k turns by pi k a hop; the rest is the line's distance from the bin's middle
    const turn = Math.atan2(this.turnIm[peak], this.turnRe[peak]) - Math.PI * (peak % 2);
    const rest = Math.atan2(Math.sin(turn), Math.cos(turn)) / (2 * Math.PI * (this.hop / rate));
    return { hz: (peak * rate) / size + rest, excessDb };
  }
}
