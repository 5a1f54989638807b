import { kernels, once, roomFor } from './kernels.ts';

/** No stretch is longer: callers cut. */
export const MOST_FRAMES = 65536;
const MOST_CHANNELS = 8;

const room = once(() => ({
  kernel: kernels(),
  channels: Array.from({ length: MOST_CHANNELS }, () => roomFor(MOST_FRAMES)),
  extremes: roomFor(2),
}));

/** Puts samples where kernels read them. They stay until the next call for the same channel; returns where they lie. */
export function held(samples: Float32Array, channel = 0): number {
  const { kernel, channels } = room();
  const at = channels[channel];
  kernel.f32.set(samples, at >> 2);
  return at;
}

/**
 * Has a kernel change values in place, however many: a stretch at a time, with as much of the `others` beside it.
 * @param change given how many lie there, where the values lie, and where each of the others
 */
export function inPlace(
  values: Float32Array,
  others: readonly Float32Array[],
  change: (count: number, at: number, ...others: number[]) => void,
): void {
  const { f32 } = room().kernel;
  for (let start = 0; start < values.length; start += MOST_FRAMES) {
    const part = values.subarray(start, start + MOST_FRAMES);
    const at = held(part);
    change(part.length, at, ...others.map((other, k) => held(other.subarray(start, start + part.length), k + 1)));
    part.set(f32.subarray(at >> 2, (at >> 2) + part.length));
  }
}

/** Smallest and largest of samples that were put there; infinite where there is none. */
export function extremesOf(samples: number, frames: number): { low: number; high: number } {
  const { kernel, extremes } = room();
  kernel.extremes(samples, frames, extremes);
  const at = extremes >> 2;
  return { low: kernel.f32[at], high: kernel.f32[at + 1] };
}
