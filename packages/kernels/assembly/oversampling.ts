// What a curve at a multiple of the rate needs: interpolation, the curve, decimation.

import { exp4 } from './exponential';

/**
 * `factor` values for each of `frames` samples: phase p of sample i is the sum of its row of `taps` over the samples from i + 1 on. Four
 * samples at a time, up to three beyond the end.
 */
export function interpolate(samples: usize, frames: i32, rows: usize, taps: i32, factor: i32, out: usize): void {
  const stride = (<usize>factor) << 2;
  for (let phase = 0; phase < factor; phase++) {
    const row = rows + ((<usize>(phase * taps)) << 2);
    for (let i = 0; i < frames; i += 4) {
      let from = samples + ((<usize>i) << 2) + 4;
      let even = f32x4.splat(0);
      let odd = f32x4.splat(0);
      for (let j: usize = 0; j < (<usize>taps) << 2; j += 8) {
        even = f32x4.add(even, f32x4.mul(v128.load32_splat(row + j), v128.load(from)));
        odd = f32x4.add(odd, f32x4.mul(v128.load32_splat(row + j, 4), v128.load(from, 4)));
        from += 8;
      }
      const four = f32x4.add(even, odd);
      const to = out + ((<usize>(i * factor + phase)) << 2);
      store<f32>(to, f32x4.extract_lane(four, 0));
      store<f32>(to + stride, f32x4.extract_lane(four, 1));
      store<f32>(to + 2 * stride, f32x4.extract_lane(four, 2));
      store<f32>(to + 3 * stride, f32x4.extract_lane(four, 3));
    }
  }
}

/** Every `factor`th sum of `taps` over values, `count` of them; `taps` is padded with zeros to a multiple of 8. */
export function decimate(values: usize, count: i32, factor: i32, taps: usize, length: i32, out: usize): void {
  for (let i = 0; i < count; i++) {
    let at = values + ((<usize>(i * factor)) << 2);
    let even = f32x4.splat(0);
    let odd = f32x4.splat(0);
    for (let k: usize = 0; k < (<usize>length) << 2; k += 32) {
      even = f32x4.add(even, f32x4.mul(v128.load(taps + k), v128.load(at)));
      odd = f32x4.add(odd, f32x4.mul(v128.load(taps + k, 16), v128.load(at, 16)));
      at += 32;
    }
    const four = f32x4.add(even, odd);
    const two = f32x4.add(four, v128.shuffle<f32>(four, four, 2, 3, 2, 3));
    store<f32>(out + ((<usize>i) << 2), f32x4.extract_lane(two, 0) + f32x4.extract_lane(two, 1));
  }
}

/** Hyperbolic tangent, within 2e-7 (S. Moshier's Cephes library near 0, by the exponential elsewhere). */
function tanh4(x: v128): v128 {
  const one = f32x4.splat(1);
  const size = f32x4.abs(x);
  const z = f32x4.mul(x, x);
  let p = f32x4.splat(-5.70498872745e-3);
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(2.06390887954e-2));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-5.37397155531e-2));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(1.33314422036e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-3.33332819422e-1));
  const near = f32x4.add(f32x4.mul(f32x4.mul(p, z), x), x);
  const grown = exp4(f32x4.add(size, size));
  const far = f32x4.sub(one, f32x4.div(f32x4.splat(2), f32x4.add(grown, one)));
  const signed = v128.or(far, v128.and(x, f32x4.splat(-0.0)));
  return v128.bitselect(near, signed, f32x4.lt(size, f32x4.splat(0.625)));
}

/**
 * (tanh(drive x + bias) - tanh(bias)) / (slope drive) of `count` values in place, a multiple of 4; `slope`: of tanh at the bias.
 */
export function saturated(values: usize, count: i32, drive: f32, bias: f32, slope: f32): void {
  const by = f32x4.splat(drive);
  const from = f32x4.splat(bias);
  const rest = tanh4(from);
  const scale = f32x4.splat(1 / (slope * drive));
  for (let i: usize = 0; i < (<usize>count) << 2; i += 16) {
    const pushed = tanh4(f32x4.add(f32x4.mul(by, v128.load(values + i)), from));
    v128.store(values + i, f32x4.mul(scale, f32x4.sub(pushed, rest)));
  }
}
