// Two filters side by side over the same samples, and what comes out of each as energy of one cell of time after the other.

import { section } from './section';

/** States under this are cleared, so that denormals never slow the loop. */
const QUIET: f64 = 1e-25;
/** Bytes of a section's coefficients b0 b1 b2 a1 a2 and of its state x1 x2 y1 y2: every one a pair of doubles, one a filter. */
const SECTION: usize = 80;
const STATE: usize = 64;

function calmPair(at: usize, pair: v128): void {
  const first = f64x2.extract_lane(pair, 0);
  const second = f64x2.extract_lane(pair, 1);
  store<f64>(at, abs(first) < QUIET ? 0 : first);
  store<f64>(at, abs(second) < QUIET ? 0 : second, 8);
}

/** One section of both filters takes one sample: the very sums of the loop below, so that it does not matter where blocks are cut. */
function step(coefficients: usize, state: usize, x: v128): v128 {
  const x1 = v128.load(state);
  const y1 = v128.load(state, 32);
  const y = section(
    x,
    x1,
    v128.load(state, 16),
    y1,
    v128.load(state, 48),
    v128.load(coefficients),
    v128.load(coefficients, 16),
    v128.load(coefficients, 32),
    v128.load(coefficients, 48),
    v128.load(coefficients, 64),
  );
  v128.store(state, x1, 16);
  v128.store(state, x);
  v128.store(state, y1, 48);
  v128.store(state, y, 32);
  return y;
}

/** Two sections over pairs in place, the second one sample behind the first: a recursion waits for itself, not for the other. More would not stay in registers. */
function two(pairs: usize, frames: i32, coefficients: usize, state: usize): void {
  if (frames < 1) return;
  const next = coefficients + SECTION;
  const nextState = state + STATE;
  // the first sample brings the second section to its place
  let y = step(coefficients, state, v128.load(pairs));
  const a0 = v128.load(coefficients);
  const a1 = v128.load(coefficients, 16);
  const a2 = v128.load(coefficients, 32);
  const a3 = v128.load(coefficients, 48);
  const a4 = v128.load(coefficients, 64);
  const b0 = v128.load(next);
  const b1 = v128.load(next, 16);
  const b2 = v128.load(next, 32);
  const b3 = v128.load(next, 48);
  const b4 = v128.load(next, 64);
  let x1 = v128.load(state);
  let x2 = v128.load(state, 16);
  let y2 = v128.load(state, 48);
  let u1 = v128.load(nextState);
  let u2 = v128.load(nextState, 16);
  let v1 = v128.load(nextState, 32);
  let v2 = v128.load(nextState, 48);
  const last = pairs + ((<usize>frames - 1) << 4);
  for (let at = pairs; at < last; at += 16) {
    const v = section(y, u1, u2, v1, v2, b0, b1, b2, b3, b4);
    u2 = u1;
    u1 = y;
    v2 = v1;
    v1 = v;
    const x = v128.load(at, 16);
    v128.store(at, v);
    const fresh = section(x, x1, x2, y, y2, a0, a1, a2, a3, a4);
    x2 = x1;
    x1 = x;
    y2 = y;
    y = fresh;
  }
  calmPair(state, x1);
  calmPair(state + 16, x2);
  calmPair(state + 32, y);
  calmPair(state + 48, y2);
  calmPair(nextState, u1);
  calmPair(nextState + 16, u2);
  calmPair(nextState + 32, v1);
  calmPair(nextState + 48, v2);
  v128.store(last, step(next, nextState, y));
}

function widen(samples: usize, frames: i32, pairs: usize): void {
  for (let i = 0; i < frames; i++)
    v128.store(pairs + ((<usize>i) << 4), f64x2.promote_low_f32x4(v128.load32_splat(samples + ((<usize>i) << 2))));
}

/** Mean powers of the cells that end within pairs; what is left of them goes into `sums`, which holds what the first cell had before. */
function sumUp(pairs: usize, frames: i32, lengths: usize, cells: i32, begun: i32, sums: usize, out: usize): void {
  let energies = v128.load(sums);
  let left = frames;
  let before = begun;
  let at = pairs;
  for (let cell = 0; cell <= cells; cell++) {
    const count = cell < cells ? load<i32>(lengths + ((<usize>cell) << 2)) : left;
    let others = f64x2.splat(0);
    for (let i = 1; i < count; i += 2) {
      const a = v128.load(at);
      const b = v128.load(at, 16);
      at += 32;
      energies = f64x2.add(energies, f64x2.mul(a, a));
      others = f64x2.add(others, f64x2.mul(b, b));
    }
    if (count & 1) {
      const a = v128.load(at);
      at += 16;
      others = f64x2.add(others, f64x2.mul(a, a));
    }
    energies = f64x2.add(energies, others);
    if (cell === cells) break;
    left -= count;
    v128.store(out + ((<usize>cell) << 4), f64x2.div(energies, f64x2.splat(<f64>(before + count))));
    before = 0;
    energies = f64x2.splat(0);
  }
  v128.store(sums, energies);
}

/**
 * Sections in series, twice: two filters. `coefficients`: for each of an even number of sections b0 b1 b2 a1 a2, every one as a pair of
 * doubles, one a filter. `state`: for each section x1 x2 y1 y2 as such pairs, then the energies of the cell that has begun. `lengths`: frames
 * that the next `cells` cells still take; what is left goes into one that does not end yet. `begun`: frames that the first has had before.
 * `work`: `frames` pairs of doubles. `out`: a pair of mean powers for each cell that ends.
 */
export function cellPowers(
  samples: usize,
  frames: i32,
  sections: i32,
  coefficients: usize,
  state: usize,
  lengths: usize,
  cells: i32,
  begun: i32,
  work: usize,
  out: usize,
): void {
  widen(samples, frames, work);
  for (let k: usize = 0; k < <usize>sections; k += 2) two(work, frames, coefficients + k * SECTION, state + k * STATE);
  sumUp(work, frames, lengths, cells, begun, state + <usize>sections * STATE, out);
}
