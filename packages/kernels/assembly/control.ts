// What makes a gain of levels, a value for every control step, and what lays the gain over a signal.

import { exp4, log4 } from './exponential';

/** Frames of a control step. */
const STEP: i32 = 8;

/** Of a power under which all is silence. */
const LEAST: f32 = 1e-30;
const DB_PER_NEPER: f32 = 4.342944819;
const NEPERS_PER_DB: f32 = 0.1151292546;

/**
 * Each value, `most` at most, by the mean of the last `window`, in whole multiples of 1 / `one`: what is added is taken away without a
 * remainder. `ring`: the last values; `state`: their sum, and where the oldest lies. All in double precision.
 */
export function averages(values: usize, count: i32, most: f32, ring: usize, window: i32, one: f64, state: usize): void {
  let sum = load<f64>(state);
  let at = <i32>load<f64>(state, 8);
  const whole = <f64>window * one;
  for (let k = 0; k < count; k++) {
    const place = ring + ((<usize>at) << 3);
    const fresh = floor(<f64>min(load<f32>(values), most) * one);
    sum += fresh - load<f64>(place);
    store<f64>(place, fresh);
    if (++at === window) at = 0;
    store<f32>(values, <f32>(sum / whole));
    values += 4;
  }
  store<f64>(state, sum);
  store<f64>(state, <f64>at, 8);
}

/** Powers to decibels, silence to -300; up to three beyond `count` too. */
export function decibels(values: usize, count: i32): void {
  for (let k: usize = 0; k < (<usize>count) << 2; k += 16) {
    const power = f32x4.pmax(v128.load(values + k), f32x4.splat(LEAST));
    v128.store(values + k, f32x4.mul(f32x4.splat(DB_PER_NEPER), log4(power)));
  }
}

/** Decibels to factors of amplitude; 0 dB to exactly 1. */
export function factors(values: usize, count: i32): void {
  for (let k: usize = 0; k < (<usize>count) << 2; k += 16)
    v128.store(values + k, exp4(f32x4.mul(f32x4.splat(NEPERS_PER_DB), v128.load(values + k))));
}

/**
 * Levels in dB become the reductions of a soft-knee compressor, slope = 1 - 1 / ratio, the knee quadratic in dB (Giannoulis, Massberg and
 * Reiss, JAES 60(6), 2012, eq. 4); up to three beyond `count` too.
 */
export function reductions(levels: usize, count: i32, threshold: f32, slope: f32, knee: f32): void {
  const none = f32x4.splat(0);
  const bend = f32x4.splat(knee > 0 ? 0.5 / knee : 0);
  for (let k: usize = 0; k < (<usize>count) << 2; k += 16) {
    const over = f32x4.sub(v128.load(levels + k), f32x4.splat(threshold));
    const within = f32x4.pmin(f32x4.pmax(f32x4.add(over, f32x4.splat(knee / 2)), none), f32x4.splat(knee));
    const beyond = f32x4.pmax(f32x4.sub(over, f32x4.splat(knee / 2)), none);
    const bent = f32x4.mul(f32x4.mul(within, within), bend);
    v128.store(levels + k, f32x4.mul(f32x4.splat(slope), f32x4.add(bent, beyond)));
  }
}

/**
 * By how much levels in dB exceed other levels and `threshold`, from 0 to `range`; 0 where the others are not over `least`. Up to three beyond
 * `count` too.
 */
export function excesses(levels: usize, others: usize, count: i32, threshold: f32, range: f32, least: f32): void {
  for (let k: usize = 0; k < (<usize>count) << 2; k += 16) {
    const other = v128.load(others + k);
    const over = f32x4.sub(f32x4.sub(v128.load(levels + k), other), f32x4.splat(threshold));
    const held = f32x4.pmin(f32x4.pmax(over, f32x4.splat(0)), f32x4.splat(range));
    v128.store(levels + k, v128.and(held, f32x4.gt(other, f32x4.splat(least))));
  }
}

/** Reductions in dB become the gains that make them, times a make-up gain in dB; of no reduction and no make-up exactly 1. */
export function gains(reductions: usize, count: i32, makeup: f32): void {
  for (let k: usize = 0; k < (<usize>count) << 2; k += 16) {
    const decibels = f32x4.sub(f32x4.splat(makeup), v128.load(reductions + k));
    v128.store(reductions + k, exp4(f32x4.mul(f32x4.splat(NEPERS_PER_DB), decibels)));
  }
}

/** Reductions in dB become the shares that they take away. */
export function shares(reductions: usize, count: i32): void {
  for (let k: usize = 0; k < (<usize>count) << 2; k += 16) {
    const gain = exp4(f32x4.mul(f32x4.splat(-NEPERS_PER_DB), v128.load(reductions + k)));
    v128.store(reductions + k, f32x4.sub(f32x4.splat(1), gain));
  }
}

/** A one-pole that goes up by `attack` of what is missing and down by `release`, from `value` on; returns where it ends. */
export function follow(values: usize, count: i32, attack: f64, release: f64, value: f64): f64 {
  for (let k = 0; k < count; k++) {
    const missing = <f64>load<f32>(values) - value;
    value += (missing > 0 ? attack : release) * missing;
    if (value < 1e-9) value = 0;
    store<f32>(values, <f32>value);
    values += 4;
  }
  return value;
}

/**
 * Straight lines over control steps, of which `phase` frames have gone by: the first from `from` to `to`, then to each of `aims` in turn.
 * Up to seven beyond `frames` are written.
 */
export function ramps(aims: usize, frames: i32, phase: i32, from: f32, to: f32, out: usize): void {
  let i = 0;
  while (i < frames) {
    const slope = (to - from) / <f32>STEP;
    if (phase === 0) {
      const first = f32x4.add(f32x4.splat(from), f32x4.mul(f32x4.splat(slope), f32x4(1, 2, 3, 4)));
      const second = f32x4.add(f32x4.splat(from), f32x4.mul(f32x4.splat(slope), f32x4(5, 6, 7, 8)));
      const at = out + ((<usize>i) << 2);
      v128.store(at, first);
      v128.store(at, second, 16);
      i += STEP;
    } else {
      for (; phase < STEP && i < frames; i++) store<f32>(out + ((<usize>i) << 2), from + slope * <f32>++phase);
      phase = 0;
    }
    from = to;
    to = load<f32>(aims);
    aims += 4;
  }
}

/** Samples by gains, in place; up to three beyond `frames` too. */
export function amplify(samples: usize, gains: usize, frames: i32): void {
  for (let k: usize = 0; k < (<usize>frames) << 2; k += 16)
    v128.store(samples + k, f32x4.mul(v128.load(samples + k), v128.load(gains + k)));
}

/** whole - share x band, into `whole`. */
export function withoutShare(whole: usize, band: usize, shares: usize, frames: i32): void {
  for (let k: usize = 0; k < (<usize>frames) << 2; k += 16) {
    const taken = f32x4.mul(v128.load(shares + k), v128.load(band + k));
    v128.store(whole + k, f32x4.sub(v128.load(whole + k), taken));
  }
}
