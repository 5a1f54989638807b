/**
 * The mains' phase over time, theta in radians beside 2 pi f0 t, from the values of its lines frame by frame: a Kalman filter over
 * [theta, its rate] and Rauch, Tung and Striebel's smoother backward. A line of multiple n turns n times as fast.
 */

/** How far the mains' frequency walks, in Hz per root second. */
const WALK_HZ = 0.015;
const FIRST_RATE_HZ = 0.1;
/** A line that is covered, uncertain by more than this in its turns, unlike itself in size, or far from where it must be is left out. */
const MOST_NOISE = 0.2;
const MOST_SPREAD = 0.6;
const LIKE = { least: 0.6, most: 1.6 };

export interface LineTrack {
  harmonic: number;
  /** By frame, relative to f0. */
  re: Float64Array;
  im: Float64Array;
  beside: Float64Array;
  /** How far a frame is to be trusted for the line's amplitude: less where anything covers the lines, though it be not beside this one. */
  weight: Float64Array;
  /** What the line is where theta is 0. */
  own: { re: number; im: number };
}

/** @param hopSeconds between frames; @returns theta and its rate in rad/s, by frame */
export function mainsPhase(
  lines: readonly LineTrack[],
  frames: number,
  hopSeconds: number,
): { theta: Float64Array; rate: Float64Array } {
  const q = (2 * Math.PI * WALK_HZ) ** 2;
  const [q11, q12, q22] = [(q * hopSeconds ** 3) / 3, (q * hopSeconds ** 2) / 2, q * hopSeconds];
  const each = () => new Float64Array(frames);
  const filtered = { x: each(), v: each(), p11: each(), p12: each(), p22: each() };
  const ahead = { x: each(), v: each(), p11: each(), p12: each(), p22: each() };
  let [x, v] = [0, 0];
  let [p11, p12, p22] = [0.1, 0, (2 * Math.PI * FIRST_RATE_HZ) ** 2];
  for (let t = 0; t < frames; t++) {
    if (t > 0) {
      x += hopSeconds * v;
      p11 += 2 * hopSeconds * p12 + hopSeconds ** 2 * p22 + q11;
      p12 += hopSeconds * p22 + q12;
      p22 += q22;
    }
    ahead.x[t] = x;
    ahead.v[t] = v;
    ahead.p11[t] = p11;
    ahead.p12[t] = p12;
    ahead.p22[t] = p22;
    for (const { harmonic: n, re, im, beside, own } of lines) {
      const size = own.re ** 2 + own.im ** 2;
      const noise = beside[t] / size;
      const like = Math.sqrt((re[t] ** 2 + im[t] ** 2) / size);
      if (noise / 2 > MOST_NOISE || n * n * p11 > MOST_SPREAD || like < LIKE.least || like > LIKE.most) continue;
      const turnRe = re[t] * own.re + im[t] * own.im;
      const turnIm = im[t] * own.re - re[t] * own.im;
      const turn = Math.atan2(turnIm, turnRe) - n * x;
      const innovation = turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI));
      const s = n * n * p11 + noise;
      if (innovation ** 2 > 9 * s + 0.05) continue;
      const [k1, k2] = [(n * p11) / s, (n * p12) / s];
      x += k1 * innovation;
      v += k2 * innovation;
      p22 -= k2 * n * p12;
      p12 -= k1 * n * p12;
      p11 -= k1 * n * p11;
    }
    filtered.x[t] = x;
    filtered.v[t] = v;
    filtered.p11[t] = p11;
    filtered.p12[t] = p12;
    filtered.p22[t] = p22;
  }
  const theta = filtered.x.slice();
  const rate = filtered.v.slice();
  for (let t = frames - 2; t >= 0; t--) {
    const [a11, a12, a22] = [ahead.p11[t + 1], ahead.p12[t + 1], ahead.p22[t + 1]];
    const det = a11 * a22 - a12 * a12;
    if (!(det > 0)) continue;
    // P F^T, then times the inverse of the covariance ahead
    const [b11, b12] = [filtered.p11[t] + hopSeconds * filtered.p12[t], filtered.p12[t]];
    const [b21, b22] = [filtered.p12[t] + hopSeconds * filtered.p22[t], filtered.p22[t]];
    const [dx, dv] = [theta[t + 1] - ahead.x[t + 1], rate[t + 1] - ahead.v[t + 1]];
    theta[t] += ((b11 * a22 - b12 * a12) * dx + (b12 * a11 - b11 * a12) * dv) / det;
    rate[t] += ((b21 * a22 - b22 * a12) * dx + (b22 * a11 - b21 * a12) * dv) / det;
  }
  return { theta, rate };
}
