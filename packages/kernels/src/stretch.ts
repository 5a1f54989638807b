import { kernels, once, roomFor } from './kernels.ts';

/** No stretch is longer: callers cut. */
export const MOST_FRAMES = 65536;
const MOST_CHANNELS = 8;

const room = once(() => ({
  kernel: kernels(),
  kept: Array.from({ length: MOST_CHANNELS }, () => roomFor(MOST_FRAMES)),
  channels: Array.from({ length: MOST_CHANNELS }, () => roomFor(MOST_FRAMES)),
  extremes: roomFor(2),
}));

/** Channels that lie in the rooms that are kept. */
let kept: readonly Float32Array[] = [];

/** While `work` goes on, `held` finds these channels, and any stretch of them, where they were put once. Nobody may change them meanwhile. */
export function keeping(channels: readonly Float32Array[], work: () => void): void {
  const { kernel, kept: rooms } = room();
  const some = channels.slice(0, MOST_CHANNELS).filter(({ length }) => length <= MOST_FRAMES);
  for (const [c, samples] of some.entries()) kernel.f32.set(samples, rooms[c] >> 2);
  kept = some;
  try {
    work();
  } finally {
    kept = [];
  }
}

/**
 * Where samples lie for kernels to read: they are put there, or lie there already. They stay until the next call for the same channel. What
 * changes them does it by `inPlace`.
 */
export function held(samples: Float32Array, channel = 0): number {
  for (let c = 0; c < kept.length; c++) {
    const { buffer, byteOffset, byteLength } = kept[c];
    const from = samples.byteOffset - byteOffset;
    if (samples.buffer === buffer && from >= 0 && from + samples.byteLength <= byteLength) return room().kept[c] + from;
  }
  return placed(samples, channel);
}

function placed(samples: Float32Array, channel: number): number {
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
    const at = placed(part, 0);
    change(part.length, at, ...others.map((other, k) => placed(other.subarray(start, start + part.length), k + 1)));
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
