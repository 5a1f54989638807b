// Two filters side by side over the same samples, and what comes out of each as energy of one cell of time after the other.

import { section } from './section';

/** States under this are cleared, so that denormals never slow the loop. */
const QUIET: f64 = 1e-25;

function calmPair(at: usize, pair: v128): void {
  const first = f64x2.extract_lane(pair, 0);
  const second = f64x2.extract_lane(pair, 1);
  store<f64>(at, abs(first) < QUIET ? 0 : first);
  store<f64>(at, abs(second) < QUIET ? 0 : second, 8);
}

/**
 * Two second-order sections in series, or three, twice. `sections`: for each b0 b1 b2 a1 a2, every one as a pair of doubles, one a filter. `state`:
 * pairs x1 x2 of the input, then y1 y2 of each section, then the energies of the cell that has begun. `lengths`: frames that the next
 * `cells` cells still take; what is left goes into one that does not end yet. `begun`: frames that the first has had before. `out`: a pair of
 * mean powers for each cell that ends.
 */
export function cellPowers(
  samples: usize,
  frames: i32,
  sections: usize,
  state: usize,
  lengths: usize,
  cells: i32,
  begun: i32,
  third: bool,
  out: usize,
): void {
  const b0 = v128.load(sections);
  const b1 = v128.load(sections, 16);
  const b2 = v128.load(sections, 32);
  const b3 = v128.load(sections, 48);
  const b4 = v128.load(sections, 64);
  const c0 = v128.load(sections, 80);
  const c1 = v128.load(sections, 96);
  const c2 = v128.load(sections, 112);
  const c3 = v128.load(sections, 128);
  const c4 = v128.load(sections, 144);
  const d0 = v128.load(sections, 160);
  const d1 = v128.load(sections, 176);
  const d2 = v128.load(sections, 192);
  const d3 = v128.load(sections, 208);
  const d4 = v128.load(sections, 224);
  let x1 = v128.load(state);
  let x2 = v128.load(state, 16);
  let p1 = v128.load(state, 32);
  let p2 = v128.load(state, 48);
  let q1 = v128.load(state, 64);
  let q2 = v128.load(state, 80);
  let r1 = v128.load(state, 96);
  let r2 = v128.load(state, 112);
  let sums = v128.load(state, 128);
  let at = samples;
  let left = frames;
  let before = begun;
  for (let cell = 0; cell <= cells; cell++) {
    const count = cell < cells ? load<i32>(lengths + ((<usize>cell) << 2)) : left;
    for (let i = 0; i < count; i++) {
      const x = f64x2.promote_low_f32x4(v128.load32_splat(at));
      at += 4;
      const p = section(x, x1, x2, p1, p2, b0, b1, b2, b3, b4);
      const q = section(p, p1, p2, q1, q2, c0, c1, c2, c3, c4);
      const r = third ? section(q, q1, q2, r1, r2, d0, d1, d2, d3, d4) : q;
      x2 = x1;
      x1 = x;
      p2 = p1;
      p1 = p;
      q2 = q1;
      q1 = q;
      r2 = r1;
      r1 = r;
      sums = f64x2.add(sums, f64x2.mul(r, r));
    }
    if (cell === cells) break;
    left -= count;
    v128.store(out + ((<usize>cell) << 4), f64x2.div(sums, f64x2.splat(<f64>(before + count))));
    before = 0;
    sums = f64x2.splat(0);
  }
  calmPair(state, x1);
  calmPair(state + 16, x2);
  calmPair(state + 32, p1);
  calmPair(state + 48, p2);
  calmPair(state + 64, q1);
  calmPair(state + 80, q2);
  calmPair(state + 96, r1);
  calmPair(state + 112, r2);
  v128.store(state, sums, 128);
}
