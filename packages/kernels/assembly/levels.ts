// What a stretch of samples weighs. Sums are in double precision, two lanes at a time.

/** Adds both lanes. */
function total(pair: v128): f64 {
  return f64x2.extract_lane(pair, 0) + f64x2.extract_lane(pair, 1);
}

function squares(four: v128): v128 {
  const low = f64x2.promote_low_f32x4(four);
  const high = f64x2.promote_low_f32x4(v128.shuffle<f32>(four, four, 2, 3, 2, 3));
  return f64x2.add(f64x2.mul(low, low), f64x2.mul(high, high));
}

/** Sum of squares of `frames` samples. */
export function energy(samples: usize, frames: i32): f64 {
  const end = samples + ((<usize>frames) << 2);
  let at = samples;
  // two sums: none waits for the other
  let even = f64x2.splat(0);
  let odd = f64x2.splat(0);
  for (; at + 32 <= end; at += 32) {
    even = f64x2.add(even, squares(v128.load(at)));
    odd = f64x2.add(odd, squares(v128.load(at, 16)));
  }
  let sum = total(f64x2.add(even, odd));
  for (; at < end; at += 4) {
    const x = <f64>load<f32>(at);
    sum += x * x;
  }
  return sum;
}

/** Sum, sum of squares and largest absolute sample in one go, as three doubles. */
export function levels(samples: usize, frames: i32, out: usize): void {
  const end = samples + ((<usize>frames) << 2);
  let at = samples;
  let sums = f64x2.splat(0);
  let powers = f64x2.splat(0);
  let peaks = f32x4.splat(0);
  for (; at + 16 <= end; at += 16) {
    const four = v128.load(at);
    const low = f64x2.promote_low_f32x4(four);
    const high = f64x2.promote_low_f32x4(v128.shuffle<f32>(four, four, 2, 3, 2, 3));
    sums = f64x2.add(sums, f64x2.add(low, high));
    powers = f64x2.add(powers, f64x2.add(f64x2.mul(low, low), f64x2.mul(high, high)));
    peaks = f32x4.pmax(peaks, f32x4.abs(four));
  }
  let all = total(sums);
  let power = total(powers);
  let largest = largestOf(peaks);
  for (; at < end; at += 4) {
    const x = load<f32>(at);
    all += <f64>x;
    power += <f64>x * <f64>x;
    largest = max(largest, abs(x));
  }
  store<f64>(out, all);
  store<f64>(out, power, 8);
  store<f64>(out, <f64>largest, 16);
}

/** Sum of products of two channels. */
export function product(left: usize, right: usize, frames: i32): f64 {
  const fours = frames >> 2;
  let pair = f64x2.splat(0);
  for (let i = 0; i < fours; i++) {
    const a = v128.load(left + ((<usize>i) << 4));
    const b = v128.load(right + ((<usize>i) << 4));
    const low = f64x2.mul(f64x2.promote_low_f32x4(a), f64x2.promote_low_f32x4(b));
    const aHigh = f64x2.promote_low_f32x4(v128.shuffle<f32>(a, a, 2, 3, 2, 3));
    const bHigh = f64x2.promote_low_f32x4(v128.shuffle<f32>(b, b, 2, 3, 2, 3));
    pair = f64x2.add(pair, f64x2.add(low, f64x2.mul(aHigh, bHigh)));
  }
  let all = total(pair);
  for (let i = fours << 2; i < frames; i++) {
    const at = (<usize>i) << 2;
    all += <f64>load<f32>(left + at) * <f64>load<f32>(right + at);
  }
  return all;
}

/** Largest of four. */
function largestOf(four: v128): f32 {
  const two = f32x4.pmax(four, v128.shuffle<f32>(four, four, 2, 3, 2, 3));
  return max(f32x4.extract_lane(two, 0), f32x4.extract_lane(two, 1));
}

/** Largest absolute sample. */
export function peak(samples: usize, frames: i32): f32 {
  const eights = frames >> 3;
  let even = f32x4.splat(0);
  let odd = f32x4.splat(0);
  for (let i = 0; i < eights; i++) {
    const at = samples + ((<usize>i) << 5);
    even = f32x4.pmax(even, f32x4.abs(v128.load(at)));
    odd = f32x4.pmax(odd, f32x4.abs(v128.load(at, 16)));
  }
  let largest = largestOf(f32x4.pmax(even, odd));
  for (let i = eights << 3; i < frames; i++) largest = max(largest, abs(load<f32>(samples + ((<usize>i) << 2))));
  return largest;
}

/** Largest absolute sample of each stride of 16, the last one shorter, into `peaks`; returns the largest of all. */
export function peaksOfStrides(samples: usize, frames: i32, peaks: usize): f32 {
  let largest: f32 = 0;
  for (let from = 0; from < frames; from += 16) {
    const most = peak(samples + ((<usize>from) << 2), min(16, frames - from));
    store<f32>(peaks, most);
    peaks += 4;
    largest = max(largest, most);
  }
  return largest;
}

/** Smallest and largest sample, written to `out`; both infinite where there is none. */
export function extremes(samples: usize, frames: i32, out: usize): void {
  const end = samples + ((<usize>frames) << 2);
  let at = samples;
  let low = f32x4.splat(f32.POSITIVE_INFINITY);
  let high = f32x4.splat(f32.NEGATIVE_INFINITY);
  for (; at + 32 <= end; at += 32) {
    const even = v128.load(at);
    const odd = v128.load(at, 16);
    low = f32x4.pmin(low, f32x4.pmin(even, odd));
    high = f32x4.pmax(high, f32x4.pmax(even, odd));
  }
  let least = min(
    min(f32x4.extract_lane(low, 0), f32x4.extract_lane(low, 1)),
    min(f32x4.extract_lane(low, 2), f32x4.extract_lane(low, 3)),
  );
  let most = max(
    max(f32x4.extract_lane(high, 0), f32x4.extract_lane(high, 1)),
    max(f32x4.extract_lane(high, 2), f32x4.extract_lane(high, 3)),
  );
  for (; at < end; at += 4) {
    const x = load<f32>(at);
    least = min(least, x);
    most = max(most, x);
  }
  store<f32>(out, least);
  store<f32>(out + 4, most);
}

/** How many samples from the start are exactly zero. */
export function zerosFromStart(samples: usize, frames: i32): i32 {
  let i = 0;
  while (i < frames && load<f32>(samples + ((<usize>i) << 2)) === 0) i++;
  return i;
}

/** How many before the end. */
export function zerosToEnd(samples: usize, frames: i32): i32 {
  let i = frames;
  while (i > 0 && load<f32>(samples + ((<usize>i) << 2) - 4) === 0) i--;
  return frames - i;
}

/** Whether a sample is not a number, or further from zero than `largest`. */
export function hasBeyond(samples: usize, frames: i32, largest: f32): bool {
  const fours = frames >> 2;
  const bound = f32x4.splat(largest);
  let within = i32x4.splat(-1);
  for (let i = 0; i < fours; i++)
    within = v128.and(within, f32x4.le(f32x4.abs(v128.load(samples + ((<usize>i) << 4))), bound));
  if (!i32x4.all_true(within)) return true;
  for (let i = fours << 2; i < frames; i++) if (!(abs(load<f32>(samples + ((<usize>i) << 2))) <= largest)) return true;
  return false;
}

/**
 * Whether three samples in a row, the first of them among the first `frames`, lie within `flat` of their neighbour and one
 * of them at `level` or beyond. Two samples more than `frames` are read.
 */
export function hasFlat(samples: usize, frames: i32, flat: f32, level: f32): bool {
  const near = f32x4.splat(flat);
  const loud = f32x4.splat(level);
  for (let i = 0; i < frames; i += 4) {
    const at = samples + ((<usize>i) << 2);
    const a = v128.load(at);
    const b = v128.load(at + 4);
    const c = v128.load(at + 8);
    const still = v128.and(f32x4.le(f32x4.abs(f32x4.sub(a, b)), near), f32x4.le(f32x4.abs(f32x4.sub(b, c)), near));
    if (v128.any_true(v128.and(still, f32x4.ge(f32x4.abs(b), loud)))) return true;
  }
  return false;
}

/**
 * Of each group of 8 samples the sum of squares and the largest square: the first, times `share`, is added to what `sums` holds, the second
 * kept in `peaks` where it is larger.
 */
export function squaresOfGroups(samples: usize, groups: i32, share: f32, sums: usize, peaks: usize): void {
  for (let k = 0; k < groups; k++) {
    const a = v128.load(samples);
    const b = v128.load(samples, 16);
    samples += 32;
    const first = f32x4.mul(a, a);
    const second = f32x4.mul(b, b);
    const four = f32x4.add(first, second);
    const pair = f32x4.add(four, v128.shuffle<f32>(four, four, 2, 3, 2, 3));
    const at = (<usize>k) << 2;
    const all = f32x4.extract_lane(pair, 0) + f32x4.extract_lane(pair, 1);
    store<f32>(sums + at, load<f32>(sums + at) + share * all);
    const most4 = f32x4.pmax(first, second);
    const most2 = f32x4.pmax(most4, v128.shuffle<f32>(most4, most4, 2, 3, 2, 3));
    const most = max(f32x4.extract_lane(most2, 0), f32x4.extract_lane(most2, 1));
    store<f32>(peaks + at, max(load<f32>(peaks + at), most));
  }
}

/**
 * Of each group of samples, `size` of them (a multiple of 4), the largest second difference |x[n] - 2 x[n - 1] + x[n - 2]|. The two
 * samples before the first are read too.
 */
export function jumpsOfGroups(samples: usize, groups: i32, size: i32, out: usize): void {
  const two = f32x4.splat(2);
  for (let k = 0; k < groups; k++) {
    let most4 = f32x4.splat(0);
    for (let i = 0; i < size; i += 4) {
      const now = v128.load(samples);
      const before = v128.load(samples - 4);
      const earlier = v128.load(samples - 8);
      samples += 16;
      most4 = f32x4.pmax(most4, f32x4.abs(f32x4.add(f32x4.sub(now, f32x4.mul(two, before)), earlier)));
    }
    const most2 = f32x4.pmax(most4, v128.shuffle<f32>(most4, most4, 2, 3, 2, 3));
    store<f32>(out + ((<usize>k) << 2), max(f32x4.extract_lane(most2, 0), f32x4.extract_lane(most2, 1)));
  }
}
