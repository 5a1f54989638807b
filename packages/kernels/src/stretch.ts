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

/** Smallest and largest of samples that were put there; infinite where there is none. */
export function extremesOf(samples: number, frames: number): { low: number; high: number } {
  const { kernel, extremes } = room();
  kernel.extremes(samples, frames, extremes);
  const at = extremes >> 2;
  return { low: kernel.f32[at], high: kernel.f32[at + 1] };
}
