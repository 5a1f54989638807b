// What noise reduction does to every bin of a spectrum. Arrays hold bins rounded up to a multiple of four.

import { exp4, log4 } from './exponential';

/** |X|^2. */
export function powers(re: usize, im: usize, bins: i32, out: usize): void {
  for (let k: usize = 0; k < (<usize>bins) << 2; k += 16) {
    const r = v128.load(re + k);
    const i = v128.load(im + k);
    v128.store(out + k, f32x4.add(f32x4.mul(r, r), f32x4.mul(i, i)));
  }
}

/** Adds the power of each band to `out`: bins from edges[b] up to edges[b + 1], those as whole numbers. */
export function bandPowers(re: usize, im: usize, edges: usize, bands: i32, out: usize): void {
  for (let b = 0; b < bands; b++) {
    let k = load<i32>(edges + ((<usize>b) << 2));
    const end = load<i32>(edges + ((<usize>b) << 2), 4);
    let four = f32x4.splat(0);
    for (; k + 4 <= end; k += 4) {
      const r = v128.load(re + ((<usize>k) << 2));
      const i = v128.load(im + ((<usize>k) << 2));
      four = f32x4.add(four, f32x4.add(f32x4.mul(r, r), f32x4.mul(i, i)));
    }
    let sum = <f64>f32x4.extract_lane(four, 0) + <f64>f32x4.extract_lane(four, 1);
    sum += <f64>f32x4.extract_lane(four, 2) + <f64>f32x4.extract_lane(four, 3);
    for (; k < end; k++) {
      const r = load<f32>(re + ((<usize>k) << 2));
      const i = load<f32>(im + ((<usize>k) << 2));
      sum += <f64>(r * r + i * i);
    }
    const at = out + ((<usize>b) << 3);
    store<f64>(at, load<f64>(at) + sum);
  }
}

/** Adds |X|^2 to sums in double precision. */
export function addPowers(re: usize, im: usize, bins: i32, sums: usize): void {
  for (let k = 0; k < bins; k++) {
    const r = <f64>load<f32>(re + ((<usize>k) << 2));
    const i = <f64>load<f32>(im + ((<usize>k) << 2));
    const at = sums + ((<usize>k) << 3);
    store<f64>(at, load<f64>(at) + (r * r + i * i));
  }
}

/** Adds the product of two spectra, bin by bin, to sums. */
export function addProduct(
  sumRe: usize,
  sumIm: usize,
  aRe: usize,
  aIm: usize,
  bRe: usize,
  bIm: usize,
  bins: i32,
): void {
  for (let k: usize = 0; k < (<usize>bins) << 2; k += 16) {
    const p = v128.load(aRe + k);
    const q = v128.load(aIm + k);
    const r = v128.load(bRe + k);
    const s = v128.load(bIm + k);
    const re = f32x4.sub(f32x4.mul(p, r), f32x4.mul(q, s));
    const im = f32x4.add(f32x4.mul(p, s), f32x4.mul(q, r));
    v128.store(sumRe + k, f32x4.add(v128.load(sumRe + k), re));
    v128.store(sumIm + k, f32x4.add(v128.load(sumIm + k), im));
  }
}

/** Both parts times a gain. */
export function amplified(re: usize, im: usize, bins: i32, gains: usize): void {
  for (let k: usize = 0; k < (<usize>bins) << 2; k += 16) {
    const g = v128.load(gains + k);
    v128.store(re + k, f32x4.mul(g, v128.load(re + k)));
    v128.store(im + k, f32x4.mul(g, v128.load(im + k)));
  }
}

/** Value `k` of two arrays beside each other, in double precision. */
function pairAt(first: usize, second: usize, k: i32): v128 {
  const at = (<usize>k) << 2;
  const pair = v128.shuffle<f32>(v128.load32_zero(first + at), v128.load32_zero(second + at), 0, 4, 1, 5);
  return f64x2.promote_low_f32x4(pair);
}

/**
 * Probability that speech is there, from power summed over `reach` neighbours to either side and the frame before, against what noise
 * alone would give. `last`: the frame before, which does not outlast this. `sums`: room for as many bins.
 */
export function presence(
  power: usize,
  last: usize,
  noise: usize,
  sums: usize,
  bins: i32,
  margin: f32,
  reach: i32,
  speechSnr: f32,
  out: usize,
): void {
  const bytes = (<usize>bins) << 2;
  for (let k: usize = 0; k < bytes; k += 16) v128.store(sums + k, f32x4.add(v128.load(power + k), v128.load(last + k)));
  // what is heard goes to `out`, what noise alone would give to where the frame before was
  let both = f64x2.splat(0);
  for (let k = 0; k < min(reach, bins); k++) both = f64x2.add(both, pairAt(sums, noise, k));
  for (let k = 0; k < bins; k++) {
    if (k + reach < bins) both = f64x2.add(both, pairAt(sums, noise, k + reach));
    if (k > reach) both = f64x2.sub(both, pairAt(sums, noise, k - reach - 1));
    const pair = f32x4.demote_f64x2_zero(both);
    v128.store32_lane(out + ((<usize>k) << 2), pair, 0);
    v128.store32_lane(last + ((<usize>k) << 2), pair, 1);
  }
  // the mean of many bins hardly strays from 1 in noise: a likelihood that counts them
  const widest: i32 = 2 * reach + 1;
  const strength = f32x4.splat((speechSnr / (1 + speechSnr)) * sqrt(<f32>widest));
  const twice = f32x4.splat(2 * margin);
  const one = f32x4.splat(1);
  for (let k: usize = 0; k < bytes; k += 16) {
    const expected = f32x4.add(f32x4.mul(twice, v128.load(last + k)), f32x4.splat(1e-20));
    const snr = f32x4.div(v128.load(out + k), expected);
    v128.store(out + k, f32x4.mul(f32x4.sub(snr, one), strength));
  }
  // at both ends there are fewer
  for (let k = 0; k < bins; k++) {
    if (k === reach) k = max(k, bins - reach);
    if (k >= bins) break;
    const width = min(k + reach, bins - 1) - max(k - reach, 0) + 1;
    const at = out + ((<usize>k) << 2);
    store<f32>(at, load<f32>(at) * sqrt(<f32>width / <f32>widest));
  }
  const prior = f32x4.splat(1 + speechSnr);
  for (let k: usize = 0; k < bytes; k += 16) {
    const absent = f32x4.mul(prior, exp4(f32x4.neg(v128.load(out + k))));
    v128.store(out + k, f32x4.div(one, f32x4.add(one, absent)));
  }
}

/** Reads a table at four places between its values. */
function tableAt(table: usize, at: v128): v128 {
  const index = i32x4.trunc_sat_f32x4_s(at);
  const share = f32x4.sub(at, f32x4.convert_i32x4_s(index));
  // each value and the next one
  let first = v128.load64_zero(table + ((<usize>i32x4.extract_lane(index, 0)) << 2));
  first = v128.load64_lane(table + ((<usize>i32x4.extract_lane(index, 1)) << 2), first, 1);
  let second = v128.load64_zero(table + ((<usize>i32x4.extract_lane(index, 2)) << 2));
  second = v128.load64_lane(table + ((<usize>i32x4.extract_lane(index, 3)) << 2), second, 1);
  const low = v128.shuffle<f32>(first, second, 0, 2, 4, 6);
  const high = v128.shuffle<f32>(first, second, 1, 3, 5, 7);
  return f32x4.add(f32x4.mul(low, f32x4.sub(f32x4.splat(1), share)), f32x4.mul(high, share));
}

/** A probability this near to 0 or 1 is taken as that. */
const UNSURE: f32 = 1e-3;

/**
 * The gain of every bin: decision-directed a-priori SNR, log-spectral-amplitude gain, weighed by the probability of speech down to `floor`.
 * `previous`: gain^2 gamma of the frame before, renewed. `table`: exp(E1(v) / 2) from v = `first` up, a power of two, `perOctave` steps to
 * each octave, of equal width within it; `least` and `most`: where v is held.
 */
export function spectralGains(
  power: usize,
  noise: usize,
  probability: usize,
  previous: usize,
  gains: usize,
  bins: i32,
  margin: f32,
  floor: f32,
  decision: f32,
  leastXi: f32,
  keep: f32,
  table: usize,
  first: f32,
  perOctave: i32,
  least: f32,
  most: f32,
): void {
  const one = f32x4.splat(1);
  const logFloor = log4(f32x4.splat(floor));
  // the bits of a float count its octave above and its place in the octave below: no logarithm is needed
  const firstBits = i32x4.splat(reinterpret<i32>(first));
  const perBit = f32x4.splat(<f32>perOctave / <f32>(1 << 23));
  for (let k: usize = 0; k < (<usize>bins) << 2; k += 16) {
    const lambda = f32x4.add(f32x4.mul(v128.load(noise + k), f32x4.splat(margin)), f32x4.splat(1e-20));
    const gamma = f32x4.pmin(f32x4.div(v128.load(power + k), lambda), f32x4.splat(1e4));
    const instant = f32x4.pmax(f32x4.sub(gamma, one), f32x4.splat(0));
    const xi = f32x4.pmax(
      f32x4.add(
        f32x4.mul(f32x4.splat(decision), v128.load(previous + k)),
        f32x4.mul(f32x4.splat(1 - decision), instant),
      ),
      f32x4.splat(leastXi),
    );
    const wiener = f32x4.div(xi, f32x4.add(one, xi));
    // in this order what is no number is held too
    const v = f32x4.pmin(f32x4.splat(most), f32x4.pmax(f32x4.splat(least), f32x4.mul(gamma, wiener)));
    const at = f32x4.mul(f32x4.convert_i32x4_s(i32x4.sub(v, firstBits)), perBit);
    const rise = tableAt(table, at);
    const speech = f32x4.pmin(one, f32x4.pmax(f32x4.mul(wiener, rise), f32x4.splat(floor)));
    v128.store(previous + k, f32x4.mul(f32x4.mul(speech, speech), gamma));
    const p = v128.load(probability + k);
    // most bins are surely noise or surely speech: within 0.001 of either nothing is weighed
    const isNoise = f32x4.lt(p, f32x4.splat(UNSURE));
    const isSpeech = f32x4.gt(p, f32x4.splat(1 - UNSURE));
    let wanted = v128.bitselect(speech, f32x4.splat(floor), isSpeech);
    if (!i32x4.all_true(v128.or(isNoise, isSpeech))) {
      const weighed = f32x4.add(f32x4.mul(p, log4(speech)), f32x4.mul(f32x4.sub(one, p), logFloor));
      wanted = v128.bitselect(wanted, exp4(weighed), v128.or(isNoise, isSpeech));
    }
    // gains rise at once, for onsets, and fall slowly
    const before = v128.load(gains + k);
    const fallen = f32x4.add(f32x4.mul(f32x4.splat(keep), before), f32x4.mul(f32x4.splat(1 - keep), wanted));
    v128.store(gains + k, f32x4.pmax(wanted, fallen));
  }
}

/**
 * The noise of every bin, renewed by its expected value given how likely speech is there. `likely`: smoothed over time, kept between
 * calls.
 */
export function trackedNoise(
  power: usize,
  noise: usize,
  likely: usize,
  bins: i32,
  speechSnr: f32,
  keep: f32,
  keepLikely: f32,
  stuck: f32,
): void {
  const one = f32x4.splat(1);
  const slope = f32x4.splat(-speechSnr / (1 + speechSnr));
  for (let k: usize = 0; k < (<usize>bins) << 2; k += 16) {
    const heard = v128.load(power + k);
    const held = f32x4.pmax(v128.load(noise + k), f32x4.splat(1e-20));
    const absent = f32x4.mul(f32x4.splat(1 + speechSnr), exp4(f32x4.mul(f32x4.div(heard, held), slope)));
    const here = f32x4.div(one, f32x4.add(one, absent));
    const smooth = f32x4.add(
      f32x4.mul(f32x4.splat(keepLikely), v128.load(likely + k)),
      f32x4.mul(f32x4.splat(1 - keepLikely), here),
    );
    v128.store(likely + k, smooth);
    const most = f32x4.splat(stuck);
    const isStuck = v128.and(f32x4.gt(smooth, most), f32x4.gt(here, most));
    const p = v128.bitselect(most, here, isStuck);
    const expected = f32x4.add(f32x4.mul(p, held), f32x4.mul(f32x4.sub(one, p), heard));
    v128.store(noise + k, f32x4.add(f32x4.mul(f32x4.splat(keep), held), f32x4.mul(f32x4.splat(1 - keep), expected)));
  }
}
