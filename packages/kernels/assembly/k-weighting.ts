// The K-weighting of BS.1770 and its energy.

import { section } from './section';

const QUIET: f64 = 1e-25;

function calm(x: f64): f64 {
  return abs(x) < QUIET ? 0 : x;
}

/** One sample through a section, the same sums in the same order as `section`. */
function one(x: f64, x1: f64, x2: f64, y1: f64, y2: f64, b0: f64, b1: f64, b2: f64, a1: f64, a2: f64): f64 {
  return b0 * x + (b1 * x1 + b2 * x2 - a2 * y2) - a1 * y1;
}

/**
 * Energy of `frames` weighted samples. Both sections run side by side in one vector: the high-pass on what the shelf gave two samples
 * before, so that neither waits for the other. `coefficients`: b0 b1 b2 a1 a2 of the shelf, then a1 a2 of the high-pass, whose
 * numerator is 1 -2 1. `state`: x1 x2 of the shelf, y1 y2 of the shelf, y1 y2 of the high-pass.
 */
export function weightedEnergy(samples: usize, frames: i32, coefficients: usize, state: usize): f64 {
  if (frames === 0) return 0;
  const b0 = load<f64>(coefficients);
  const b1 = load<f64>(coefficients, 8);
  const b2 = load<f64>(coefficients, 16);
  const a1 = load<f64>(coefficients, 24);
  const a2 = load<f64>(coefficients, 32);
  const c1 = load<f64>(coefficients, 40);
  const c2 = load<f64>(coefficients, 48);
  const x1 = load<f64>(state);
  const x2 = load<f64>(state, 8);
  const y1 = load<f64>(state, 16);
  const y2 = load<f64>(state, 24);
  const z1 = load<f64>(state, 32);
  const z2 = load<f64>(state, 40);
  const x = <f64>load<f32>(samples);
  const y = one(x, x1, x2, y1, y2, b0, b1, b2, a1, a2);
  if (frames === 1) {
    const z = one(y, y1, y2, z1, z2, 1, -2, 1, c1, c2);
    keepAll(state, x, x1, y, y1, z, z1);
    return z * z;
  }
  // the shelf goes two samples ahead
  const next = <f64>load<f32>(samples, 4);
  // lane 0: the shelf; lane 1: the high-pass
  const bb0 = pair(b0, 1);
  const bb1 = pair(b1, -2);
  const bb2 = pair(b2, 1);
  const aa1 = pair(a1, c1);
  const aa2 = pair(a2, c2);
  let in1 = pair(next, y1);
  let in2 = pair(x, y2);
  let out1 = pair(one(next, x, x1, y, y1, b0, b1, b2, a1, a2), z1);
  let out2 = pair(y, z2);
  let sums = f64x2.splat(0);
  for (let i = 2; i < frames; i++) {
    const fresh = f64x2.promote_low_f32x4(v128.load32_splat(samples + ((<usize>i) << 2)));
    const input = v128.shuffle<f64>(fresh, out2, 0, 2);
    const output = section(input, in1, in2, out1, out2, bb0, bb1, bb2, aa1, aa2);
    in2 = in1;
    in1 = input;
    out2 = out1;
    out1 = output;
    sums = f64x2.add(sums, f64x2.mul(output, output));
  }
  // and the high-pass takes its last two
  const lastY = f64x2.extract_lane(out1, 0);
  const beforeY = f64x2.extract_lane(out2, 0);
  const olderY = f64x2.extract_lane(in1, 1);
  const olderZ = f64x2.extract_lane(out1, 1);
  const oldestZ = f64x2.extract_lane(out2, 1);
  const beforeZ = one(beforeY, olderY, f64x2.extract_lane(in2, 1), olderZ, oldestZ, 1, -2, 1, c1, c2);
  const lastZ = one(lastY, beforeY, olderY, beforeZ, olderZ, 1, -2, 1, c1, c2);
  keepAll(state, f64x2.extract_lane(in1, 0), f64x2.extract_lane(in2, 0), lastY, beforeY, lastZ, beforeZ);
  return f64x2.extract_lane(sums, 1) + beforeZ * beforeZ + lastZ * lastZ;
}

function keepAll(state: usize, x1: f64, x2: f64, y1: f64, y2: f64, z1: f64, z2: f64): void {
  store<f64>(state, x1);
  store<f64>(state, x2, 8);
  store<f64>(state, calm(y1), 16);
  store<f64>(state, calm(y2), 24);
  store<f64>(state, calm(z1), 32);
  store<f64>(state, calm(z2), 40);
}

function pair(first: f64, second: f64): v128 {
  return f64x2.replace_lane(f64x2.splat(first), 1, second);
}

/** As `weightedEnergy`, over two channels side by side: their recursions do not wait for each other. Writes both energies to `out`. */
export function weightedEnergies(
  left: usize,
  right: usize,
  frames: i32,
  coefficients: usize,
  leftState: usize,
  rightState: usize,
  out: usize,
): void {
  const b0 = f64x2.splat(load<f64>(coefficients));
  const b1 = f64x2.splat(load<f64>(coefficients, 8));
  const b2 = f64x2.splat(load<f64>(coefficients, 16));
  const a1 = f64x2.splat(load<f64>(coefficients, 24));
  const a2 = f64x2.splat(load<f64>(coefficients, 32));
  const c1 = f64x2.splat(load<f64>(coefficients, 40));
  const c2 = f64x2.splat(load<f64>(coefficients, 48));
  let x1 = both(leftState, rightState, 0);
  let x2 = both(leftState, rightState, 8);
  let y1 = both(leftState, rightState, 16);
  let y2 = both(leftState, rightState, 24);
  let z1 = both(leftState, rightState, 32);
  let z2 = both(leftState, rightState, 40);
  let sums = f64x2.splat(0);
  for (let i = 0; i < frames; i++) {
    const at = (<usize>i) << 2;
    const pair = v128.shuffle<f32>(v128.load32_zero(left + at), v128.load32_zero(right + at), 0, 4, 1, 5);
    const x = f64x2.promote_low_f32x4(pair);
    const y = section(x, x1, x2, y1, y2, b0, b1, b2, a1, a2);
    const z = f64x2.sub(
      f64x2.add(f64x2.sub(y, f64x2.add(y1, y1)), f64x2.sub(y2, f64x2.mul(c2, z2))),
      f64x2.mul(c1, z1),
    );
    x2 = x1;
    x1 = x;
    y2 = y1;
    y1 = y;
    z2 = z1;
    z1 = z;
    sums = f64x2.add(sums, f64x2.mul(z, z));
  }
  keep(x1, leftState, rightState, 0);
  keep(x2, leftState, rightState, 8);
  keep(y1, leftState, rightState, 16);
  keep(y2, leftState, rightState, 24);
  keep(z1, leftState, rightState, 32);
  keep(z2, leftState, rightState, 40);
  v128.store(out, sums);
}

function both(left: usize, right: usize, at: usize): v128 {
  return f64x2.replace_lane(f64x2.splat(load<f64>(left + at)), 1, load<f64>(right + at));
}

function keep(pair: v128, left: usize, right: usize, at: usize): void {
  store<f64>(left + at, calm(f64x2.extract_lane(pair, 0)));
  store<f64>(right + at, calm(f64x2.extract_lane(pair, 1)));
}
