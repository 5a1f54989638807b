// The K-weighting of BS.1770 and its energy.

import { section } from './section';

const QUIET: f64 = 1e-25;

function calm(x: f64): f64 {
  return abs(x) < QUIET ? 0 : x;
}

/**
 * Energy of `frames` weighted samples. Both sections run side by side in one vector: the high-pass on what the shelf gave one
 * sample before. `coefficients`: b0 b1 b2 a1 a2 of the shelf, then a1 a2 of the high-pass, whose
 * numerator is 1 -2 1. `state`: x1 x2 of the shelf, y1 y2 of the shelf, y1 y2 of the high-pass.
 */
export function weightedEnergy(samples: usize, frames: i32, coefficients: usize, state: usize): f64 {
  if (frames === 0) return 0;
  const b0 = f64x2.replace_lane(f64x2.splat(1), 0, load<f64>(coefficients));
  const b1 = f64x2.replace_lane(f64x2.splat(-2), 0, load<f64>(coefficients, 8));
  const b2 = f64x2.replace_lane(f64x2.splat(1), 0, load<f64>(coefficients, 16));
  const a1 = f64x2.replace_lane(f64x2.splat(load<f64>(coefficients, 40)), 0, load<f64>(coefficients, 24));
  const a2 = f64x2.replace_lane(f64x2.splat(load<f64>(coefficients, 48)), 0, load<f64>(coefficients, 32));
  const shelf1 = load<f64>(state, 16);
  const shelf2 = load<f64>(state, 24);
  const pass1 = load<f64>(state, 32);
  const pass2 = load<f64>(state, 40);
  let energy: f64 = 0;
  // the shelf goes one sample ahead
  const x1 = load<f64>(state);
  const x2 = load<f64>(state, 8);
  const x = <f64>load<f32>(samples);
  const first =
    load<f64>(coefficients) * x +
    (load<f64>(coefficients, 8) * x1 + load<f64>(coefficients, 16) * x2) -
    (load<f64>(coefficients, 24) * shelf1 + load<f64>(coefficients, 32) * shelf2);
  // lane 0: the shelf; lane 1: the high-pass, one sample behind
  let in1 = f64x2.replace_lane(f64x2.splat(shelf1), 0, x);
  let in2 = f64x2.replace_lane(f64x2.splat(shelf2), 0, x1);
  let out1 = f64x2.replace_lane(f64x2.splat(pass1), 0, first);
  let out2 = f64x2.replace_lane(f64x2.splat(pass2), 0, shelf1);
  let sums = f64x2.splat(0);
  for (let i = 1; i < frames; i++) {
    const fresh = f64x2.promote_low_f32x4(v128.load32_splat(samples + ((<usize>i) << 2)));
    const input = v128.shuffle<f64>(fresh, out1, 0, 2);
    const output = section(input, in1, in2, out1, out2, b0, b1, b2, a1, a2);
    in2 = in1;
    in1 = input;
    out2 = out1;
    out1 = output;
    sums = f64x2.add(sums, f64x2.mul(output, output));
  }
  // and the high-pass takes its last one
  const y = f64x2.extract_lane(out1, 0);
  const z =
    y -
    2 * f64x2.extract_lane(in1, 1) +
    f64x2.extract_lane(in2, 1) -
    (load<f64>(coefficients, 40) * f64x2.extract_lane(out1, 1) +
      load<f64>(coefficients, 48) * f64x2.extract_lane(out2, 1));
  energy = f64x2.extract_lane(sums, 1) + z * z;
  store<f64>(state, f64x2.extract_lane(in1, 0));
  store<f64>(state, f64x2.extract_lane(in2, 0), 8);
  store<f64>(state, calm(y), 16);
  store<f64>(state, calm(f64x2.extract_lane(out2, 0)), 24);
  store<f64>(state, calm(z), 32);
  store<f64>(state, calm(f64x2.extract_lane(out1, 1)), 40);
  return energy;
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
