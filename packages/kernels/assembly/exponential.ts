// Natural logarithm and exponential of four numbers, within 2e-7 (polynomials of S. Moshier's Cephes library).

/** For numbers that are normal and above 0. */
export function log4(x: v128): v128 {
  // x = m 2^e, m from sqrt(1/2) to sqrt(2)
  const shifted = i32x4.sub(x, i32x4.splat(0x3f3504f3));
  const e = f32x4.convert_i32x4_s(i32x4.shr_s(shifted, 23));
  const m = i32x4.add(v128.and(shifted, i32x4.splat(0x007fffff)), i32x4.splat(0x3f3504f3));
  const f = f32x4.sub(m, f32x4.splat(1));
  const z = f32x4.mul(f, f);
  let y = f32x4.splat(7.0376836292e-2);
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(-1.151461031e-1));
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(1.167699874e-1));
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(-1.2420140846e-1));
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(1.4249322787e-1));
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(-1.6668057665e-1));
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(2.0000714765e-1));
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(-2.4999993993e-1));
  y = f32x4.add(f32x4.mul(y, f), f32x4.splat(3.3333331174e-1));
  y = f32x4.mul(f32x4.mul(y, f), z);
  y = f32x4.add(y, f32x4.mul(e, f32x4.splat(-2.1219444e-4)));
  y = f32x4.sub(y, f32x4.mul(z, f32x4.splat(0.5)));
  return f32x4.add(f32x4.add(f, y), f32x4.mul(e, f32x4.splat(0.693359375)));
}

/** Beneath -87 it stays at 1e-38. */
export function exp4(x: v128): v128 {
  const kept = f32x4.pmin(f32x4.pmax(x, f32x4.splat(-87)), f32x4.splat(88));
  const n = f32x4.nearest(f32x4.mul(kept, f32x4.splat(<f32>Math.LOG2E)));
  let r = f32x4.sub(kept, f32x4.mul(n, f32x4.splat(0.693359375)));
  r = f32x4.sub(r, f32x4.mul(n, f32x4.splat(-2.1219444e-4)));
  let y = f32x4.splat(1.98756915e-4);
  y = f32x4.add(f32x4.mul(y, r), f32x4.splat(1.3981999507e-3));
  y = f32x4.add(f32x4.mul(y, r), f32x4.splat(8.3334519073e-3));
  y = f32x4.add(f32x4.mul(y, r), f32x4.splat(4.1665795894e-2));
  y = f32x4.add(f32x4.mul(y, r), f32x4.splat(1.6666665459e-1));
  y = f32x4.add(f32x4.mul(y, r), f32x4.splat(5.0000001201e-1));
  y = f32x4.add(f32x4.add(f32x4.mul(y, f32x4.mul(r, r)), r), f32x4.splat(1));
  const power = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(n), i32x4.splat(127)), 23);
  return f32x4.mul(y, power);
}
