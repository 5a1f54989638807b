// Complex FFT of n = 4^a or 2 4^a points, from 32 on, real and imaginary parts apart: Stockham's self-sorting form of radix 4
// (decimation in frequency), a last stage of radix 2 where one is left over. Both buffers are used in turn; no reordering.

/** Turns (r, i) by the twiddle (c, s) = exp(-j phi): c = cos, s = -sin. */
function turnedRe(r: v128, i: v128, c: v128, s: v128): v128 {
  return f32x4.sub(f32x4.mul(r, c), f32x4.mul(i, s));
}

function turnedIm(r: v128, i: v128, c: v128, s: v128): v128 {
  return f32x4.add(f32x4.mul(r, s), f32x4.mul(i, c));
}

/** Four rows of four become columns: row k of the result holds element k of each, and lies at out + 16 k. */
function storeTransposed(a: v128, b: v128, c: v128, d: v128, out: usize): void {
  const ab01 = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const cd01 = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const ab23 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cd23 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(out, v128.shuffle<f32>(ab01, cd01, 0, 1, 4, 5));
  v128.store(out, v128.shuffle<f32>(ab01, cd01, 2, 3, 6, 7), 16);
  v128.store(out, v128.shuffle<f32>(ab23, cd23, 0, 1, 4, 5), 32);
  v128.store(out, v128.shuffle<f32>(ab23, cd23, 2, 3, 6, 7), 48);
}

/** The first stage, four neighbours at a time: the twiddles are read as they lie, the results are transposed. */
function firstStage(re: usize, im: usize, toRe: usize, toIm: usize, n: i32, twiddles: usize): void {
  const quarter = <usize>n & ~3; // bytes of n / 4 floats
  const w = twiddles;
  for (let p: usize = 0; p < quarter; p += 16) {
    const ar = v128.load(re + p);
    const ai = v128.load(im + p);
    const br = v128.load(re + p + quarter);
    const bi = v128.load(im + p + quarter);
    const cr = v128.load(re + p + 2 * quarter);
    const ci = v128.load(im + p + 2 * quarter);
    const dr = v128.load(re + p + 3 * quarter);
    const di = v128.load(im + p + 3 * quarter);
    const sumR = f32x4.add(ar, cr);
    const sumI = f32x4.add(ai, ci);
    const difR = f32x4.sub(ar, cr);
    const difI = f32x4.sub(ai, ci);
    const othR = f32x4.add(br, dr);
    const othI = f32x4.add(bi, di);
    // j (b - d)
    const jR = f32x4.sub(di, bi);
    const jI = f32x4.sub(br, dr);
    const oneR = f32x4.sub(difR, jR);
    const oneI = f32x4.sub(difI, jI);
    const twoR = f32x4.sub(sumR, othR);
    const twoI = f32x4.sub(sumI, othI);
    const triR = f32x4.add(difR, jR);
    const triI = f32x4.add(difI, jI);
    const c1 = v128.load(w + p);
    const s1 = v128.load(w + p + quarter);
    const c2 = v128.load(w + p + 2 * quarter);
    const s2 = v128.load(w + p + 3 * quarter);
    const c3 = v128.load(w + p + 4 * quarter);
    const s3 = v128.load(w + p + 5 * quarter);
    const at = p << 2;
    storeTransposed(
      f32x4.add(sumR, othR),
      turnedRe(oneR, oneI, c1, s1),
      turnedRe(twoR, twoI, c2, s2),
      turnedRe(triR, triI, c3, s3),
      toRe + at,
    );
    storeTransposed(
      f32x4.add(sumI, othI),
      turnedIm(oneR, oneI, c1, s1),
      turnedIm(twoR, twoI, c2, s2),
      turnedIm(triR, triI, c3, s3),
      toIm + at,
    );
  }
}

/** A stage over sequences of n points that lie `stride` floats apart, stride a multiple of 4. */
function laterStage(re: usize, im: usize, toRe: usize, toIm: usize, n: i32, stride: i32, twiddles: usize): void {
  const row = (<usize>stride) << 2;
  const points = n >> 2;
  const table = (<usize>points) << 2;
  const far = row * points;
  for (let p = 0; p < points; p++) {
    const w = twiddles + ((<usize>p) << 2);
    const c1 = v128.load32_splat(w);
    const s1 = v128.load32_splat(w + table);
    const c2 = v128.load32_splat(w + 2 * table);
    const s2 = v128.load32_splat(w + 3 * table);
    const c3 = v128.load32_splat(w + 4 * table);
    const s3 = v128.load32_splat(w + 5 * table);
    const from = row * p;
    const to = from << 2;
    for (let q: usize = 0; q < row; q += 16) {
      const at = from + q;
      const ar = v128.load(re + at);
      const ai = v128.load(im + at);
      const br = v128.load(re + at + far);
      const bi = v128.load(im + at + far);
      const cr = v128.load(re + at + 2 * far);
      const ci = v128.load(im + at + 2 * far);
      const dr = v128.load(re + at + 3 * far);
      const di = v128.load(im + at + 3 * far);
      const sumR = f32x4.add(ar, cr);
      const sumI = f32x4.add(ai, ci);
      const difR = f32x4.sub(ar, cr);
      const difI = f32x4.sub(ai, ci);
      const othR = f32x4.add(br, dr);
      const othI = f32x4.add(bi, di);
      const jR = f32x4.sub(di, bi);
      const jI = f32x4.sub(br, dr);
      const oneR = f32x4.sub(difR, jR);
      const oneI = f32x4.sub(difI, jI);
      const twoR = f32x4.sub(sumR, othR);
      const twoI = f32x4.sub(sumI, othI);
      const triR = f32x4.add(difR, jR);
      const triI = f32x4.add(difI, jI);
      const out = to + q;
      v128.store(toRe + out, f32x4.add(sumR, othR));
      v128.store(toIm + out, f32x4.add(sumI, othI));
      v128.store(toRe + out + row, turnedRe(oneR, oneI, c1, s1));
      v128.store(toIm + out + row, turnedIm(oneR, oneI, c1, s1));
      v128.store(toRe + out + 2 * row, turnedRe(twoR, twoI, c2, s2));
      v128.store(toIm + out + 2 * row, turnedIm(twoR, twoI, c2, s2));
      v128.store(toRe + out + 3 * row, turnedRe(triR, triI, c3, s3));
      v128.store(toIm + out + 3 * row, turnedIm(triR, triI, c3, s3));
    }
  }
}

/** The last stage of radix 2, in place. */
function pairs(re: usize, im: usize, n: i32): void {
  const half = (<usize>n) << 1;
  for (let q: usize = 0; q < half; q += 16) {
    const ar = v128.load(re + q);
    const ai = v128.load(im + q);
    const br = v128.load(re + q + half);
    const bi = v128.load(im + q + half);
    v128.store(re + q, f32x4.add(ar, br));
    v128.store(im + q, f32x4.add(ai, bi));
    v128.store(re + q + half, f32x4.sub(ar, br));
    v128.store(im + q + half, f32x4.sub(ai, bi));
  }
}

/**
 * Transforms n points. `twiddles`: for each stage of radix 4 from n down, six tables of its n / 4 cosines and minus sines of 1, 2
 * and 3 times 2 pi p / n. Returns whether the result lies in the second buffer.
 */
function transform(re: usize, im: usize, otherRe: usize, otherIm: usize, size: i32, twiddles: usize): bool {
  firstStage(re, im, otherRe, otherIm, size, twiddles);
  let inOther = true;
  let w = twiddles + <usize>(6 * size);
  let n = size >> 2;
  let stride = 4;
  for (; n >= 4; n >>= 2, stride <<= 2) {
    if (inOther) laterStage(otherRe, otherIm, re, im, n, stride, w);
    else laterStage(re, im, otherRe, otherIm, n, stride, w);
    w += <usize>(6 * n);
    inOther = !inOther;
  }
  if (n === 2) {
    if (inOther) pairs(otherRe, otherIm, size);
    else pairs(re, im, size);
  }
  return inOther;
}

function reversed(four: v128): v128 {
  return v128.shuffle<f32>(four, four, 3, 2, 1, 0);
}

/**
 * Between the spectrum of n complex points and that of their 2 n real samples, but for the two ends: bins k and n - k of either come from
 * bins k and n - k of the other. `way`: 1 towards the real spectrum, -1 back.
 */
function mirrored(
  fromRe: usize,
  fromIm: usize,
  toRe: usize,
  toIm: usize,
  n: i32,
  turns: usize,
  scale: f32,
  way: f32,
): void {
  const bytes = (<usize>n) << 2;
  const sines = turns + ((<usize>(n / 2 + 1)) << 2);
  const by = f32x4.splat(scale);
  const ways = f32x4.splat(way);
  let k = 1;
  for (; k + 3 < n / 2; k += 4) {
    const at = (<usize>k) << 2;
    const back = bytes - at - 12;
    const ar = v128.load(fromRe + at);
    const ai = v128.load(fromIm + at);
    const br = reversed(v128.load(fromRe + back));
    const bi = reversed(v128.load(fromIm + back));
    const evenR = f32x4.mul(by, f32x4.add(ar, br));
    const evenI = f32x4.mul(by, f32x4.sub(ai, bi));
    const oddR = f32x4.mul(by, f32x4.add(ai, bi));
    const oddI = f32x4.mul(by, f32x4.sub(br, ar));
    const c = f32x4.mul(ways, v128.load(turns + at));
    const s = v128.load(sines + at);
    const turnR = f32x4.add(f32x4.mul(oddR, c), f32x4.mul(oddI, s));
    const turnI = f32x4.sub(f32x4.mul(oddI, c), f32x4.mul(oddR, s));
    v128.store(toRe + at, f32x4.add(evenR, turnR));
    v128.store(toIm + at, f32x4.add(evenI, turnI));
    v128.store(toRe + back, reversed(f32x4.sub(evenR, turnR)));
    v128.store(toIm + back, reversed(f32x4.sub(turnI, evenI)));
  }
  for (; k <= n / 2; k++) {
    const at = (<usize>k) << 2;
    const back = bytes - at;
    const ar = load<f32>(fromRe + at);
    const ai = load<f32>(fromIm + at);
    const br = load<f32>(fromRe + back);
    const bi = load<f32>(fromIm + back);
    const evenR = (ar + br) * scale;
    const evenI = (ai - bi) * scale;
    const oddR = (ai + bi) * scale;
    const oddI = (br - ar) * scale;
    const c = load<f32>(turns + at) * way;
    const s = load<f32>(sines + at);
    const turnR = oddR * c + oddI * s;
    const turnI = oddI * c - oddR * s;
    store<f32>(toRe + at, evenR + turnR);
    store<f32>(toIm + at, evenI + turnI);
    store<f32>(toRe + back, evenR - turnR);
    store<f32>(toIm + back, turnI - evenI);
  }
}

/**
 * Real FFT of 2 n samples, taken times `window` where that is not 0: n + 1 bins to `re` and `im`. `work`: 4 n floats. `turns`: n / 2 + 1 cosines, then sines, of
 * pi k / n.
 */
export function realForward(
  samples: usize,
  window: usize,
  re: usize,
  im: usize,
  n: i32,
  twiddles: usize,
  turns: usize,
  work: usize,
): void {
  const bytes = (<usize>n) << 2;
  let zr = work;
  let zi = work + bytes;
  for (let i: usize = 0; i < bytes; i += 16) {
    let a = v128.load(samples + 2 * i);
    let b = v128.load(samples + 2 * i + 16);
    if (window) {
      a = f32x4.mul(a, v128.load(window + 2 * i));
      b = f32x4.mul(b, v128.load(window + 2 * i + 16));
    }
    v128.store(zr + i, v128.shuffle<f32>(a, b, 0, 2, 4, 6));
    v128.store(zi + i, v128.shuffle<f32>(a, b, 1, 3, 5, 7));
  }
  if (transform(zr, zi, zr + 2 * bytes, zi + 2 * bytes, n, twiddles)) {
    zr += 2 * bytes;
    zi += 2 * bytes;
  }
  const r0 = load<f32>(zr);
  const i0 = load<f32>(zi);
  store<f32>(re, r0 + i0);
  store<f32>(im, 0);
  store<f32>(re + bytes, r0 - i0);
  store<f32>(im + bytes, 0);
  mirrored(zr, zi, re, im, n, turns, 0.5, 1);
}

/** The inverse of `realForward`, 1 / (2 n) included. Where `window` is not 0, samples times the window are added to those that are there. */
export function realInverse(
  re: usize,
  im: usize,
  samples: usize,
  window: usize,
  n: i32,
  twiddles: usize,
  turns: usize,
  work: usize,
): void {
  const bytes = (<usize>n) << 2;
  let zr = work;
  let zi = work + bytes;
  const scale: f32 = <f32>0.5 / <f32>n;
  const r0 = load<f32>(re);
  const rn = load<f32>(re + bytes);
  store<f32>(zr, (r0 + rn) * scale);
  store<f32>(zi, (r0 - rn) * scale);
  mirrored(re, im, zr, zi, n, turns, scale, -1);
  // real and imaginary parts in each other's place: the forward transform is the inverse
  if (transform(zi, zr, zi + 2 * bytes, zr + 2 * bytes, n, twiddles)) {
    zr += 2 * bytes;
    zi += 2 * bytes;
  }
  for (let i: usize = 0; i < bytes; i += 16) {
    const a = v128.load(zr + i);
    const b = v128.load(zi + i);
    let low = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
    let high = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
    const at = samples + 2 * i;
    if (window) {
      low = f32x4.add(v128.load(at), f32x4.mul(low, v128.load(window + 2 * i)));
      high = f32x4.add(v128.load(at, 16), f32x4.mul(high, v128.load(window + 2 * i + 16)));
    }
    v128.store(at, low);
    v128.store(at, high, 16);
  }
}
