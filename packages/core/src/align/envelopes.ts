import { RealFft } from '@tonos/kernels';
import { quantile } from '../dsp/quantile.ts';
import { type Block, type CancelSignal, framesOf, type Source } from '../signal/signal.ts';

/** How the level of a few bands goes up and down, by which recordings of one session know each other again. */

export const ENVELOPES_PER_SECOND = 25;
const BANDS_HZ = [
  [150, 500],
  [500, 1500],
  [1500, 3500],
] as const;
const TRANSFORM_SECONDS = 0.02;
/** What lies in the quieter part is the room, and the room of one microphone is not that of another. */
const FLOOR_SHARE = 0.4;
/** What changes more slowly is no sign. */
const SLOW_SECONDS = 2;

export interface Envelopes {
  frames: number;
  /** Of every band, about zero. */
  bands: Float32Array[];
}

/** Hears a whole source. */
export async function envelopesOf(source: Source, signal?: CancelSignal): Promise<Envelopes> {
  const meter = new EnvelopeMeter(source.format.sampleRateHz);
  for await (const block of source.blocks({ signal })) {
    signal?.throwIfAborted();
    meter.hear(block);
  }
  return meter.conclude();
}

class EnvelopeMeter {
  private readonly fft: RealFft;
  private readonly mono: Float32Array;
  private readonly re: Float32Array;
  private readonly im: Float32Array;
  private readonly powers: number[][] = BANDS_HZ.map(() => []);
  private filled = 0;
  private frames = 0;

  constructor(private readonly sampleRateHz: number) {
    this.fft = new RealFft(2 ** Math.round(Math.log2(TRANSFORM_SECONDS * sampleRateHz)));
    this.mono = new Float32Array(this.fft.size);
    this.re = new Float32Array(this.fft.bins);
    this.im = new Float32Array(this.fft.bins);
  }

  hear(block: Block): void {
    const count = framesOf(block);
    for (let at = 0; at < count; ) {
      // one transform in each step of time; what lies between is not looked at
      const start = Math.round((this.powers[0].length / ENVELOPES_PER_SECOND) * this.sampleRateHz);
      if (this.frames < start) {
        const skipped = Math.min(count - at, start - this.frames);
        this.frames += skipped;
        at += skipped;
        continue;
      }
      const taken = Math.min(count - at, this.fft.size - this.filled);
      sumInto(this.mono.subarray(this.filled, this.filled + taken), block, at);
      this.filled += taken;
      this.frames += taken;
      at += taken;
      if (this.filled === this.fft.size) this.close();
    }
  }

  conclude(): Envelopes {
    return { frames: this.frames, bands: this.powers.map(aboutZero) };
  }

  private close(): void {
    this.filled = 0;
    this.fft.forward(this.mono, this.re, this.im, 'hann');
    const binOf = (hz: number) => Math.min(this.fft.bins - 1, Math.round((hz * this.fft.size) / this.sampleRateHz));
    BANDS_HZ.forEach(([low, high], b) => {
      let power = 0;
      for (let k = binOf(low); k < Math.max(binOf(low) + 1, binOf(high)); k++)
        power += this.re[k] * this.re[k] + this.im[k] * this.im[k];
      this.powers[b].push(power);
    });
  }
}

/** The sum of all channels, from some frame of the block on. */
export function sumInto(mono: Float32Array, block: Block, from: number): void {
  const [first, ...others] = block;
  mono.set(first.subarray(from, from + mono.length));
  for (const channel of others) for (let i = 0; i < mono.length; i++) mono[i] += channel[from + i];
}

/** Levels over the room in decibels, without what changes slowly. */
function aboutZero(powers: readonly number[]): Float32Array {
  const sounding = powers.filter((power) => power > 0);
  const floor = quantile(sounding, FLOOR_SHARE) ?? 1;
  const levels = Float64Array.from(powers, (power) => Math.log(power / floor + 1));
  const half = Math.round((SLOW_SECONDS / 2) * ENVELOPES_PER_SECOND);
  const sums = new Float64Array(levels.length + 1);
  for (let i = 0; i < levels.length; i++) sums[i + 1] = sums[i] + levels[i];
  return Float32Array.from(levels, (level, i) => {
    const [from, to] = [Math.max(0, i - half), Math.min(levels.length, i + half + 1)];
    return level - (sums[to] - sums[from]) / (to - from);
  });
}
