import { kernels, held as placed, RealFft } from '@tonos/kernels';
import { powerToDb } from '../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat } from '../signal/signal.ts';

/** What a whole recording sounds like: its long-term spectrum where it is loud and where it is quiet, and how often each level occurs. */
export interface LongTermSpectrum {
  /** Middles of the sixth-octave bands. */
  centresHz: number[];
  /** Level of each band in dBFS, over the stretches within 20 dB of the mean level; null where there is none. */
  loudDb: (number | null)[];
  /** Over the quietest tenth. */
  quietDb: (number | null)[];
  /** How many stretches had each level: class i reaches from bottomDb + i stepDb upwards. */
  levels: { bottomDb: number; stepDb: number; secondsEach: number; counts: number[] };
}

const BANDS_PER_OCTAVE = 6;
/** Bands have their middles at 1 kHz and sixth octaves from it (IEC 61260), the lowest at 25 Hz. */
const LOWEST_BAND = -32;
const HIGHEST_HZ = 20000;
const BOTTOM_DB = -120;
const STEP_DB = 2;
const CLASSES = 62;
const LOUD_WITHIN_DB = 20;
const QUIET_SHARE = 0.1;

/**
 * Spectra of stretches of about 85 ms, summed by the stretch's own level: in the end the loud and the quiet can be told apart, though
 * nobody knew beforehand where they would lie, and the memory is the same for any length.
 */
export class SpectrumMeter {
  private readonly size: number;
  private readonly fft: RealFft;
  private readonly held: Float32Array[];
  private readonly centresHz: number[];
  private readonly edges: Int32Array;
  private readonly counts = new Array<number>(CLASSES).fill(0);
  private readonly powers: Float64Array[];
  private filled = 0;

  constructor(private readonly format: SignalFormat) {
    const rate = format.sampleRateHz;
    this.size = 2 ** Math.round(Math.log2(rate * 0.085));
    this.fft = new RealFft(this.size);
    this.held = Array.from({ length: format.channels }, () => new Float32Array(this.size));
    const top = Math.min(HIGHEST_HZ, 0.48 * rate);
    const bandHz = (band: number) => 1000 * 2 ** ((LOWEST_BAND + band) / BANDS_PER_OCTAVE);
    const count = Math.floor(BANDS_PER_OCTAVE * Math.log2(top / bandHz(0)));
    this.centresHz = Array.from({ length: count }, (_, b) => bandHz(b));
    this.edges = Int32Array.from({ length: count + 1 }, (_, b) => Math.round((bandHz(b - 0.5) * this.size) / rate));
    this.powers = Array.from({ length: CLASSES }, () => new Float64Array(count));
  }

  hear(block: Block): void {
    const frames = framesOf(block);
    for (let start = 0; start < frames; ) {
      const count = Math.min(frames - start, this.size - this.filled);
      block.forEach((channel, c) => {
        this.held[c].set(channel.subarray(start, start + count), this.filled);
      });
      this.filled += count;
      start += count;
      if (this.filled === this.size) this.endStretch();
    }
  }

  conclude(): LongTermSpectrum {
    const total = this.counts.reduce((sum, count) => sum + count, 0);
    const classPower = (i: number) => 10 ** ((BOTTOM_DB + (i + 0.5) * STEP_DB) / 10);
    const mean = this.counts.reduce((sum, count, i) => sum + count * classPower(i), 0) / Math.max(1, total);
    const loudFrom = Math.floor((powerToDb(mean) - LOUD_WITHIN_DB - BOTTOM_DB) / STEP_DB);
    // digital silence has no spectrum
    let quietTo = 1;
    for (let seen = this.counts[1]; quietTo < CLASSES - 1 && seen < QUIET_SHARE * (total - this.counts[0]); )
      seen += this.counts[++quietTo];
    return {
      centresHz: this.centresHz.map((hz) => Math.round(hz * 10) / 10),
      loudDb: this.meanOf(Math.max(1, loudFrom), CLASSES - 1),
      quietDb: this.meanOf(1, quietTo),
      levels: {
        bottomDb: BOTTOM_DB,
        stepDb: STEP_DB,
        secondsEach: this.size / this.format.sampleRateHz,
        counts: [...this.counts],
      },
    };
  }

  private endStretch(): void {
    this.filled = 0;
    const { size } = this;
    let energy = 0;
    for (const held of this.held) energy += kernels().energy(placed(held), size);
    const db = powerToDb(energy / (size * this.held.length));
    const at = Math.max(0, Math.min(CLASSES - 1, Math.floor((db - BOTTOM_DB) / STEP_DB)));
    this.counts[at]++;
    if (at === 0) return;
    const powers = this.powers[at];
    for (const held of this.held) this.fft.addBandPowers(held, 'hann', this.edges, powers);
  }

  private meanOf(from: number, to: number): (number | null)[] {
    const count = this.counts.slice(from, to + 1).reduce((sum, one) => sum + one, 0);
    const scale = 2 / (0.375 * this.size ** 2 * this.held.length);
    return this.centresHz.map((_, b) => {
      // the lowest bands may be narrower than a bin
      if (!count || this.edges[b] === this.edges[b + 1]) return null;
      let power = 0;
      for (let i = from; i <= to; i++) power += this.powers[i][b];
      const db = powerToDb((power * scale) / count);
      return Number.isFinite(db) ? Math.round(db * 10) / 10 : null;
    });
  }
}
