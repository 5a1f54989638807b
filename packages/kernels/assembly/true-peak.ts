// Peaks between samples: 48 taps a phase, 8 phases a sample, read on finer grids only where a peak over the floor could hide.

const TAPS: i32 = 48;
const HALF: i32 = 24;
const STRIDE: i32 = 16;
/** Strides that the samples behind one stride of intervals reach over. */
const REACH: i32 = (STRIDE + TAPS) / STRIDE;

/** A peak rises no further above its nearest values on a grid of 2 and of 4 a sample: 1 / cos(pi / 4), 1 / cos(pi / 8) (Bernstein). */
const RISE_OVER_HALVES: f32 = 1.42;
const RISE_OVER_QUARTERS: f32 = 1.09;

/** |the value at `phase` eighths after sample `at` + 23|. */
function between(at: usize, taps: usize, phase: i32): f32 {
  const w = taps + ((<usize>((phase - 1) * TAPS)) << 2);
  let even = f32x4.mul(v128.load(w), v128.load(at));
  let odd = f32x4.mul(v128.load(w, 16), v128.load(at, 16));
  for (let k: usize = 32; k < 192; k += 32) {
    even = f32x4.add(even, f32x4.mul(v128.load(w + k), v128.load(at + k)));
    odd = f32x4.add(odd, f32x4.mul(v128.load(w + k, 16), v128.load(at + k, 16)));
  }
  const four = f32x4.add(even, odd);
  const two = f32x4.add(four, v128.shuffle<f32>(four, four, 2, 3, 2, 3));
  return abs(f32x4.extract_lane(two, 0) + f32x4.extract_lane(two, 1));
}

/** Largest of |sample `at` + 23| and what lies between it and the next one. */
function intervalPeak(at: usize, taps: usize, floor: f32): f32 {
  const start = abs(load<f32>(at, 4 * (HALF - 1)));
  const end = abs(load<f32>(at, 4 * HALF));
  let peak = max(start, between(at, taps, 4));
  if (max(end, peak) * RISE_OVER_HALVES <= floor) return peak;
  peak = max(peak, max(between(at, taps, 2), between(at, taps, 6)));
  if (max(end, peak) * RISE_OVER_QUARTERS <= floor) return peak;
  for (let phase = 1; phase < 8; phase += 2) peak = max(peak, between(at, taps, phase));
  return peak;
}

/** Of all samples that the intervals of one stride stand on. */
function largestFrom(strides: usize): f32 {
  let most: f32 = 0;
  for (let k = 0; k < REACH; k++) most = max(most, load<f32>(strides + ((<usize>k) << 2)));
  return most;
}

/**
 * The largest peak of `frames` intervals, or `floor` where that is larger. `samples`: frames + 47 of them; `strides`: their peaks by 16,
 * zeros behind; `bound`: how far an interpolated value can exceed its samples.
 */
export function largestBetween(samples: usize, frames: i32, strides: usize, taps: usize, bound: f32, floor: f32): f32 {
  let most = floor;
  for (let from = 0; from < frames; from += STRIDE) {
    const known = largestFrom(strides);
    strides += 4;
    if (known * bound <= most) continue;
    const to = min(frames, from + STRIDE);
    for (let i = from; i < to; i++) most = max(most, intervalPeak(samples + ((<usize>i) << 2), taps, most));
  }
  return most;
}

/**
 * Writes the peak of each interval; those that stay under `floor` are read roughly, or as their first sample alone. Returns the largest
 * of all.
 */
export function peaksBetween(
  samples: usize,
  frames: i32,
  strides: usize,
  taps: usize,
  bound: f32,
  floor: f32,
  out: usize,
): f32 {
  let most: f32 = 0;
  for (let from = 0; from < frames; from += STRIDE) {
    const mayExceed = largestFrom(strides) * bound > floor;
    strides += 4;
    const to = min(frames, from + STRIDE);
    for (let i = from; i < to; i++) {
      const at = samples + ((<usize>i) << 2);
      const peak = mayExceed ? intervalPeak(at, taps, floor) : abs(load<f32>(at, 4 * (HALF - 1)));
      most = max(most, peak);
      store<f32>(out + ((<usize>i) << 2), peak);
    }
  }
  return most;
}
