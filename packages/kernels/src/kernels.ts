import { KERNELS_WASM } from './kernels-wasm.ts';
import { compiled, instanceOf } from './wasm.ts';

/** What assembly/index.ts gives out: pointers are bytes from the start of memory. */
interface Exports {
  memory: { buffer: ArrayBuffer };
  allocate(bytes: number): number;
  energy(samples: number, frames: number): number;
  sum(samples: number, frames: number): number;
  product(left: number, right: number, frames: number): number;
  peak(samples: number, frames: number): number;
  peaksOfStrides(samples: number, frames: number, peaks: number): number;
  extremes(samples: number, frames: number, out: number): void;
  zeros(samples: number, frames: number): number;
  hasBeyond(samples: number, frames: number, largest: number): number;
  hasFlat(samples: number, frames: number, flat: number, level: number): number;
  weightedEnergy(samples: number, frames: number, coefficients: number, state: number): number;
  halve(samples: number, made: number, taps: number, out: number): void;
  largestBetween(samples: number, frames: number, strides: number, taps: number, bound: number, floor: number): number;
  peaksBetween(
    samples: number,
    frames: number,
    strides: number,
    taps: number,
    bound: number,
    floor: number,
    out: number,
  ): void;
  realForward(
    samples: number,
    window: number,
    re: number,
    im: number,
    n: number,
    twiddles: number,
    turns: number,
    work: number,
  ): void;
  realInverse(
    re: number,
    im: number,
    samples: number,
    window: number,
    n: number,
    twiddles: number,
    turns: number,
    work: number,
  ): void;
}

export interface Kernels extends Exports {
  /** The whole memory as single and as double precision. It never grows, so both stay valid. */
  readonly f32: Float32Array;
  readonly f64: Float64Array;
}

let loaded: Kernels | undefined;

/** The kernels of this thread, compiled when they are first needed. */
export function kernels(): Kernels {
  if (loaded) return loaded;
  const exports = instanceOf<Exports>(compiled(KERNELS_WASM));
  const { buffer } = exports.memory;
  loaded = { ...exports, f32: new Float32Array(buffer), f64: new Float64Array(buffer) };
  return loaded;
}

/** Room for 32-bit floats, for as long as the program runs; 16 bytes of it beyond the end may be read or written. */
export const roomFor = (floats: number): number => kernels().allocate(4 * floats + 16);

/** Copies values there and returns where they lie. */
export function tableOf(values: ArrayLike<number>): number {
  const at = roomFor(values.length);
  kernels().f32.set(values, at >> 2);
  return at;
}
