// Second-order sections in series, direct form 1 in double precision. Four run side by side, each one sample behind the one
// before it: a recursion waits for itself, not for the others.

import { section } from './section';

/** Near the denormals, and so far under what a sample can hold that nobody sees where it is cleared. */
const QUIET: f64 = 1e-290;
/** Bytes of a section's coefficients b0 b1 b2 a1 a2, and of its state x1 x2 y1 y2. */
const SECTION: usize = 40;
const STATE: usize = 32;

/** One section takes one sample: the very sums of the loop below, so that it does not matter where blocks are cut. */
function step(section: usize, state: usize, x: f64): f64 {
  const x1 = load<f64>(state);
  const y1 = load<f64>(state, 16);
  const y =
    load<f64>(section) * x +
    (load<f64>(section, 8) * x1 +
      load<f64>(section, 16) * load<f64>(state, 8) -
      load<f64>(section, 32) * load<f64>(state, 24)) -
    load<f64>(section, 24) * y1;
  store<f64>(state, x1, 8);
  store<f64>(state, x);
  store<f64>(state, y1, 24);
  store<f64>(state, y, 16);
  return y;
}

function pairOf(first: usize, second: usize): v128 {
  return f64x2.replace_lane(f64x2.splat(load<f64>(first)), 1, load<f64>(second));
}

function storePair(pair: v128, first: usize, second: usize): void {
  store<f64>(first, f64x2.extract_lane(pair, 0));
  store<f64>(second, f64x2.extract_lane(pair, 1));
}

/** Four sections over `frames` doubles in place. */
function four(work: usize, frames: i32, sections: usize, states: usize): void {
  const sB = sections + SECTION;
  const sC = sB + SECTION;
  const sD = sC + SECTION;
  const tB = states + STATE;
  const tC = tB + STATE;
  const tD = tC + STATE;
  if (frames < 4) {
    for (let i = 0; i < frames; i++) {
      const at = work + ((<usize>i) << 3);
      store<f64>(at, step(sD, tD, step(sC, tC, step(sB, tB, step(sections, states, load<f64>(at))))));
    }
    return;
  }
  // the first samples bring each section to its place
  let a = step(sections, states, load<f64>(work));
  let b = step(sB, tB, a);
  const _c = step(sC, tC, b);
  a = step(sections, states, load<f64>(work, 8));
  b = step(sB, tB, a);
  a = step(sections, states, load<f64>(work, 16));
  const b0 = pairOf(sections, sB);
  const b1 = pairOf(sections + 8, sB + 8);
  const b2 = pairOf(sections + 16, sB + 16);
  const a1 = pairOf(sections + 24, sB + 24);
  const a2 = pairOf(sections + 32, sB + 32);
  const d0 = pairOf(sC, sD);
  const d1 = pairOf(sC + 8, sD + 8);
  const d2 = pairOf(sC + 16, sD + 16);
  const e1 = pairOf(sC + 24, sD + 24);
  const e2 = pairOf(sC + 32, sD + 32);
  let p1 = pairOf(states, tB);
  let p2 = pairOf(states + 8, tB + 8);
  let q1 = pairOf(states + 16, tB + 16);
  let q2 = pairOf(states + 24, tB + 24);
  let r1 = pairOf(tC, tD);
  let r2 = pairOf(tC + 8, tD + 8);
  let s1 = pairOf(tC + 16, tD + 16);
  let s2 = pairOf(tC + 24, tD + 24);
  for (let i = 3; i < frames; i++) {
    const at = work + ((<usize>i) << 3);
    const p = v128.shuffle<f64>(v128.load64_splat(at), q1, 0, 2);
    const r = v128.shuffle<f64>(q1, s1, 1, 2);
    const q = section(p, p1, p2, q1, q2, b0, b1, b2, a1, a2);
    const s = section(r, r1, r2, s1, s2, d0, d1, d2, e1, e2);
    p2 = p1;
    p1 = p;
    q2 = q1;
    q1 = q;
    r2 = r1;
    r1 = r;
    s2 = s1;
    s1 = s;
    store<f64>(at - 24, f64x2.extract_lane(s, 1));
  }
  storePair(p1, states, tB);
  storePair(p2, states + 8, tB + 8);
  storePair(q1, states + 16, tB + 16);
  storePair(q2, states + 24, tB + 24);
  storePair(r1, tC, tD);
  storePair(r2, tC + 8, tD + 8);
  storePair(s1, tC + 16, tD + 16);
  storePair(s2, tC + 24, tD + 24);
  // and the last ones go through those that are behind
  const end = work + ((<usize>frames) << 3);
  const lastA = f64x2.extract_lane(q1, 0);
  const lastB = f64x2.extract_lane(q1, 1);
  const lastC = f64x2.extract_lane(s1, 0);
  store<f64>(end - 24, step(sD, tD, lastC));
  store<f64>(end - 16, step(sD, tD, step(sC, tC, lastB)));
  store<f64>(end - 8, step(sD, tD, step(sC, tC, step(sB, tB, lastA))));
}

/**
 * `quads` times four sections over samples in place. `work`: `frames` doubles. States beneath 1e-290 are cleared at the end, so that
 * denormals never slow the loop.
 */
export function cascade(samples: usize, frames: i32, quads: i32, sections: usize, states: usize, work: usize): void {
  for (let i = 0; i < frames; i++) store<f64>(work + ((<usize>i) << 3), <f64>load<f32>(samples + ((<usize>i) << 2)));
  for (let k = 0; k < quads; k++) four(work, frames, sections + <usize>k * 4 * SECTION, states + <usize>k * 4 * STATE);
  for (let i = 0; i < frames; i++) store<f32>(samples + ((<usize>i) << 2), <f32>load<f64>(work + ((<usize>i) << 3)));
  for (let k = 0; k < 16 * quads; k++) {
    const at = states + ((<usize>k) << 3);
    if (abs(load<f64>(at)) < QUIET) store<f64>(at, 0);
  }
}
