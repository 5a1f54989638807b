import { kernels, once, roomFor } from '@tonos/kernels';
import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

/**
 * Taps of a linear-phase high-pass by a Kaiser-windowed sinc (odd in number): stop band to `stopHz`, pass band from `passHz`, both
 * within `attenuationDb`.
 */
export function highPassTaps(
  stopHz: number,
  passHz: number,
  attenuationDb: number,
  sampleRateHz: number,
): Float64Array {
  const transition = (passHz - stopHz) / sampleRateHz;
  const half = Math.ceil((attenuationDb - 7.95) / (14.36 * transition) / 2);
  const cutoff = (stopHz + passHz) / 2 / sampleRateHz;
  const beta = kaiserBeta(attenuationDb);
  return Float64Array.from({ length: 2 * half + 1 }, (_, k) => {
    const x = k - half;
    const low = 2 * cutoff * sinc(2 * cutoff * x) * kaiser(x / (half + 1), beta);
    return (x === 0 ? 1 : 0) - low;
  });
}

const CHUNK = 4096;
const MOST_TAPS = 16384;

const room = once(() => ({
  out: roomFor(CHUNK + 8),
  taps: roomFor(MOST_TAPS),
  samples: roomFor(CHUNK + 2 * MOST_TAPS),
}));

/** A symmetrical filter of an odd number of taps over one channel; output lags by half of them. */
export class SymmetricFilter {
  private readonly kernel = kernels();
  private readonly half: number;
  /** From the outermost to the middle one. */
  private readonly taps: Float32Array;
  private readonly held: Float32Array;

  constructor(taps: Float64Array) {
    this.half = (taps.length - 1) / 2;
    this.taps = Float32Array.from(taps.subarray(0, this.half + 1));
    this.held = new Float32Array(taps.length - 1);
  }

  /** Filters `samples` into `out`, and writes the input, delayed alike, to `delayed`. */
  process(samples: Float32Array, out: Float32Array, delayed: Float32Array): void {
    const { kernel, half, taps, held } = this;
    const { f32 } = kernel;
    const place = room();
    const first = place.samples >> 2;
    f32.set(taps, place.taps >> 2);
    for (let start = 0; start < samples.length; start += CHUNK) {
      const frames = Math.min(CHUNK, samples.length - start);
      f32.set(held, first);
      f32.set(samples.subarray(start, start + frames), first + held.length);
      kernel.symmetric(place.samples, frames, place.taps, half, place.out);
      out.set(f32.subarray(place.out >> 2, (place.out >> 2) + frames), start);
      delayed.set(f32.subarray(first + half, first + half + frames), start);
      held.set(f32.subarray(first + frames, first + frames + held.length));
    }
  }
}
