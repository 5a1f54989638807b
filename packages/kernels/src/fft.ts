import { type Kernels, kernels, roomFor, tableOf } from './kernels.ts';

export const LEAST_SIZE = 64;

/** Tables that all transforms of a size share, and the room they work in. */
interface Plan {
  /** Half of the size: the real transform goes through a complex one of this many points. */
  n: number;
  twiddles: number;
  turns: number;
  windows: Map<WindowName, number>;
}

/** hann: periodic. root-hann: its square root, scaled so that four of its squares at a quarter's distance add up to one. */
export type WindowName = 'hann' | 'root-hann';

/** Periodic Hann window. */
export const hann = (size: number): Float64Array =>
  Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));

export const rootHann = (size: number): Float64Array =>
  Float64Array.from({ length: size }, (_, i) => Math.sin((Math.PI * i) / size) / Math.SQRT2);

const plans = new Map<number, Plan>();
let work = { floats: 0, samples: 0, re: 0, im: 0, scratch: 0 };

function planOf(size: number): Plan {
  const known = plans.get(size);
  if (known) return known;
  if (size < LEAST_SIZE || !Number.isInteger(Math.log2(size)))
    throw new RangeError(`A transform of ${size} samples: a power of two from ${LEAST_SIZE} on is needed.`);
  const n = size / 2;
  const twiddles: number[] = [];
  for (let stage = n; stage >= 4; stage >>= 2) {
    const points = Array.from({ length: stage >> 2 }, (_, p) => (2 * Math.PI * p) / stage);
    for (const times of [1, 2, 3]) {
      twiddles.push(...points.map((phi) => Math.cos(times * phi)));
      twiddles.push(...points.map((phi) => -Math.sin(times * phi)));
    }
  }
  const turns = Array.from({ length: n / 2 + 1 }, (_, k) => (Math.PI * k) / n);
  const plan = {
    n,
    twiddles: tableOf(twiddles),
    turns: tableOf([...turns.map(Math.cos), ...turns.map(Math.sin)]),
    windows: new Map(),
  };
  plans.set(size, plan);
  return plan;
}

/** Where real and imaginary parts lie for kernels. */
export interface Spectrum {
  readonly re: number;
  readonly im: number;
}

/** Real FFT of `size` samples (a power of two) to size / 2 + 1 bins, and back, in single precision. */
export class RealFft {
  readonly bins: number;
  private readonly plan: Plan;
  private readonly kernel: Kernels;

  constructor(readonly size: number) {
    this.kernel = kernels();
    this.plan = planOf(size);
    this.bins = size / 2 + 1;
    if (work.floats < size)
      work = {
        floats: size,
        samples: roomFor(size),
        re: roomFor(this.bins),
        im: roomFor(this.bins),
        scratch: roomFor(2 * size),
      };
  }

  /** @param samples `size` values, taken times the window; @param re, @param im `bins` values each, X[k] = sum x[n] exp(-2 pi i k n / size) */
  forward(samples: Float32Array, re: Float32Array, im: Float32Array, window?: WindowName): void {
    const { f32 } = this.kernel;
    const spectrum = this.spectrumOf(samples, window);
    re.set(f32.subarray(spectrum.re >> 2, (spectrum.re >> 2) + this.bins));
    im.set(f32.subarray(spectrum.im >> 2, (spectrum.im >> 2) + this.bins));
  }

  /** The inverse of `forward`, 1 / size included. Reads `bins` values, writes `size` samples. */
  inverse(re: Float32Array, im: Float32Array, samples: Float32Array): void {
    const { f32 } = this.kernel;
    f32.set(re, work.re >> 2);
    f32.set(im, work.im >> 2);
    this.back(0);
    samples.set(f32.subarray(work.samples >> 2, (work.samples >> 2) + this.size));
  }

  /** As `forward`, but the spectrum stays where kernels read and change it, until the next transform of this thread. */
  spectrumOf(samples: Float32Array, window?: WindowName): Spectrum {
    const { kernel, plan } = this;
    kernel.f32.set(samples, work.samples >> 2);
    const shape = window ? this.window(window) : 0;
    kernel.realForward(work.samples, shape, work.re, work.im, plan.n, plan.twiddles, plan.turns, work.scratch);
    return work;
  }

  /** `size` samples by a real spectrum of `bins` values, going round: out = inverse(gains x forward(samples)). */
  shape(samples: Float32Array, gains: Float32Array, out: Float32Array): void {
    const { kernel, bins } = this;
    const { re, im } = this.spectrumOf(samples);
    // the transform's own room is free again
    kernel.f32.set(gains, work.scratch >> 2);
    kernel.amplified(re, im, bins, work.scratch);
    this.back(0);
    out.set(kernel.f32.subarray(work.samples >> 2, (work.samples >> 2) + this.size));
  }

  /** The inverse of the spectrum that is there, taken times the window and added to what `output` holds: overlap-add. */
  addInverse(output: Float32Array, window: WindowName): void {
    const { f32 } = this.kernel;
    f32.set(output, work.samples >> 2);
    this.back(this.window(window));
    output.set(f32.subarray(work.samples >> 2, (work.samples >> 2) + this.size));
  }

  /** Writes |X|^2 of `size` samples, `bins` values. */
  powersOf(samples: Float32Array, powers: Float32Array): void {
    const { kernel, bins } = this;
    const { re, im } = this.spectrumOf(samples);
    // the transform's own room is free again
    const out = work.scratch;
    kernel.powers(re, im, bins, out);
    powers.set(kernel.f32.subarray(out >> 2, (out >> 2) + bins));
  }

  /** Adds |X|^2 of windowed samples to `powers`, one value a bin. */
  addPowers(samples: Float32Array, window: WindowName, powers: Float64Array): void {
    const { kernel, bins } = this;
    const { re, im } = this.spectrumOf(samples, window);
    // the transform's own room is free again
    const sums = work.scratch;
    kernel.f64.set(powers, sums >> 3);
    kernel.addPowers(re, im, bins, sums);
    powers.set(kernel.f64.subarray(sums >> 3, (sums >> 3) + bins));
  }

  /** As `addPowers`, summed over bands: of bins edges[b] to edges[b + 1] - 1. */
  addBandPowers(samples: Float32Array, window: WindowName, edges: Int32Array, powers: Float64Array): void {
    const { kernel } = this;
    const { re, im } = this.spectrumOf(samples, window);
    const [where, sums] = [work.scratch, work.samples];
    kernel.i32.set(edges, where >> 2);
    kernel.f64.set(powers, sums >> 3);
    kernel.bandPowers(re, im, where, powers.length, sums);
    powers.set(kernel.f64.subarray(sums >> 3, (sums >> 3) + powers.length));
  }

  private back(window: number): void {
    const { kernel, plan } = this;
    kernel.realInverse(work.re, work.im, work.samples, window, plan.n, plan.twiddles, plan.turns, work.scratch);
  }

  private window(name: WindowName): number {
    const { windows } = this.plan;
    const known = windows.get(name);
    if (known !== undefined) return known;
    const made = tableOf(name === 'hann' ? hann(this.size) : rootHann(this.size));
    windows.set(name, made);
    return made;
  }
}
