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
    const { kernel, plan, bins } = this;
    const { f32 } = kernel;
    f32.set(samples, work.samples >> 2);
    const shape = window ? this.window(window) : 0;
    kernel.realForward(work.samples, shape, work.re, work.im, plan.n, plan.twiddles, plan.turns, work.scratch);
    re.set(f32.subarray(work.re >> 2, (work.re >> 2) + bins));
    im.set(f32.subarray(work.im >> 2, (work.im >> 2) + bins));
  }

  /** The inverse of `forward`, 1 / size included. Reads `bins` values, writes `size` samples. */
  inverse(re: Float32Array, im: Float32Array, samples: Float32Array): void {
    const { kernel, plan, size } = this;
    const { f32 } = kernel;
    f32.set(re, work.re >> 2);
    f32.set(im, work.im >> 2);
    kernel.realInverse(work.re, work.im, work.samples, 0, plan.n, plan.twiddles, plan.turns, work.scratch);
    samples.set(f32.subarray(work.samples >> 2, (work.samples >> 2) + size));
  }

  /** The inverse, taken times the window and added to what `output` holds: overlap-add. */
  inverseOnto(re: Float32Array, im: Float32Array, output: Float32Array, window: WindowName): void {
    const { kernel, plan, size } = this;
    const { f32 } = kernel;
    const shape = this.window(window);
    f32.set(re, work.re >> 2);
    f32.set(im, work.im >> 2);
    f32.set(output, work.samples >> 2);
    kernel.realInverse(work.re, work.im, work.samples, shape, plan.n, plan.twiddles, plan.turns, work.scratch);
    output.set(f32.subarray(work.samples >> 2, (work.samples >> 2) + size));
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
