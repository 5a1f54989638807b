// A half-band low-pass of 15 taps, every second of them zero, and every second sample of what it gives.

/** Reads 2 `made` + 13 samples; `taps`: the four on either side of the middle, from the inside out. */
export function halve(samples: usize, made: i32, taps: usize, out: usize): void {
  const a = v128.load32_splat(taps);
  const b = v128.load32_splat(taps, 4);
  const c = v128.load32_splat(taps, 8);
  const d = v128.load32_splat(taps, 12);
  const half = f32x4.splat(0.5);
  for (let n = 0; n < made; n += 4) {
    const at = samples + ((<usize>n) << 3);
    const p = v128.load(at);
    const q = v128.load(at, 16);
    const r = v128.load(at, 32);
    const s = v128.load(at, 48);
    const t = v128.load(at, 64);
    const u = v128.load(at, 80);
    // the even ones, from 0 on, and the odd middle ones
    const e0 = v128.shuffle<f32>(p, q, 0, 2, 4, 6);
    const e4 = v128.shuffle<f32>(r, s, 0, 2, 4, 6);
    const e8 = v128.shuffle<f32>(t, u, 0, 2, 4, 6);
    const e1 = v128.shuffle<f32>(e0, e4, 1, 2, 3, 4);
    const e2 = v128.shuffle<f32>(e0, e4, 2, 3, 4, 5);
    const e3 = v128.shuffle<f32>(e0, e4, 3, 4, 5, 6);
    const e5 = v128.shuffle<f32>(e4, e8, 1, 2, 3, 4);
    const e6 = v128.shuffle<f32>(e4, e8, 2, 3, 4, 5);
    const e7 = v128.shuffle<f32>(e4, e8, 3, 4, 5, 6);
    const o0 = v128.shuffle<f32>(p, q, 1, 3, 5, 7);
    const middle = v128.shuffle<f32>(o0, v128.shuffle<f32>(r, s, 1, 3, 5, 7), 3, 4, 5, 6);
    const near = f32x4.add(f32x4.mul(a, f32x4.add(e3, e4)), f32x4.mul(b, f32x4.add(e2, e5)));
    const far = f32x4.add(f32x4.mul(c, f32x4.add(e1, e6)), f32x4.mul(d, f32x4.add(e0, e7)));
    v128.store(out + ((<usize>n) << 2), f32x4.add(f32x4.mul(half, middle), f32x4.add(near, far)));
  }
}
