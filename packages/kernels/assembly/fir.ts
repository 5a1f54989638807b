// A symmetrical filter of an odd number of taps.

/** `half` + 1 taps, the middle one last, over frames + 2 half samples; four values at a time, up to three beyond the end. */
export function symmetric(samples: usize, frames: i32, taps: usize, half: i32, out: usize): void {
  const reach = (<usize>half) << 3;
  for (let n = 0; n < frames; n += 8) {
    let front = samples + ((<usize>n) << 2);
    let back = front + reach;
    let first = f32x4.splat(0);
    let second = f32x4.splat(0);
    for (let k = 0; k < half; k++) {
      const tap = v128.load32_splat(taps + ((<usize>k) << 2));
      first = f32x4.add(first, f32x4.mul(tap, f32x4.add(v128.load(front), v128.load(back))));
      second = f32x4.add(second, f32x4.mul(tap, f32x4.add(v128.load(front, 16), v128.load(back, 16))));
      front += 4;
      back -= 4;
    }
    const middle = v128.load32_splat(taps + ((<usize>half) << 2));
    const at = out + ((<usize>n) << 2);
    v128.store(at, f32x4.add(first, f32x4.mul(middle, v128.load(front))));
    v128.store(at, f32x4.add(second, f32x4.mul(middle, v128.load(front, 16))), 16);
  }
}

/** whole - share x band, into `whole`. */
export function withoutShare(whole: usize, band: usize, shares: usize, frames: i32): void {
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    const taken = f32x4.mul(v128.load(shares + i), v128.load(band + i));
    v128.store(whole + i, f32x4.sub(v128.load(whole + i), taken));
  }
}
