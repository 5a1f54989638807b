// Whole numbers of 16 and 24 bits, the small end first, to samples and back.

/** Samples of one channel from frames that lie `stride` bytes apart. */
export function from16(bytes: usize, frames: i32, stride: i32, out: usize): void {
  const fours = stride <= 4 ? frames >> 2 : 0;
  const scale = f32x4.splat(<f32>(1.0 / 32768));
  for (let i = 0; i < fours; i++) {
    // of two channels each number is the low half of one of 32 bits
    const whole =
      stride === 2
        ? i32x4.extend_low_i16x8_s(v128.load64_zero(bytes))
        : i32x4.shr_s(i32x4.shl(v128.load(bytes), 16), 16);
    v128.store(out, f32x4.mul(f32x4.convert_i32x4_s(whole), scale));
    bytes += (<usize>stride) << 2;
    out += 16;
  }
  for (let i = fours << 2; i < frames; i++) {
    store<f32>(out, <f32>load<i16>(bytes) * <f32>(1.0 / 32768));
    bytes += stride;
    out += 4;
  }
}

/** As `from16`; one byte before the first is read too. */
export function from24(bytes: usize, frames: i32, stride: i32, out: usize): void {
  for (let i = 0; i < frames; i++) {
    store<f32>(out, <f32>(load<i32>(bytes - 1) >> 8) * <f32>(1.0 / 8388608));
    bytes += stride;
    out += 4;
  }
}

/** Four numbers of 32 random bits from four that are counted up (the last stage of MurmurHash3, A. Appleby). */
function random(counted: v128): v128 {
  let x = counted;
  x = v128.xor(x, i32x4.shr_u(x, 16));
  x = i32x4.mul(x, i32x4.splat(0x85ebca6b));
  x = v128.xor(x, i32x4.shr_u(x, 13));
  x = i32x4.mul(x, i32x4.splat(0xc2b2ae35));
  return v128.xor(x, i32x4.shr_u(x, 16));
}

/** Added to a double of up to 50 bits, it leaves the nearest whole number in the low bits. */
const ROUND: f64 = 6755399441055744;
const UNIT: f64 = 1.0 / 65536;

/** Two samples and their dither, in steps, as whole numbers in the low half of each double. */
function rounded(samples: v128, dither: v128, scale: f64): v128 {
  const exact = f64x2.mul(f64x2.promote_low_f32x4(samples), f64x2.splat(scale));
  const value = f64x2.add(exact, f64x2.mul(f64x2.convert_low_i32x4_s(dither), f64x2.splat(UNIT)));
  return f64x2.add(f64x2.pmin(f64x2.pmax(value, f64x2.splat(-scale)), f64x2.splat(scale - 1)), f64x2.splat(ROUND));
}

/**
 * Samples to whole numbers of `scale` to full scale, with triangular dither of one step each way: the difference of two random numbers of
 * 16 bits. They hang on `first`, the place of the first sample in its stream, and on `seed`, but not on where streams are cut. Exact
 * zeros stay zeros. Up to three beyond `frames` are read and written.
 */
export function dithered(samples: usize, frames: i32, scale: f64, seed: i32, first: i32, out: usize): void {
  const golden = i32x4.splat(0x9e3779b9);
  let count = i32x4.add(i32x4.splat(first), i32x4(0, 1, 2, 3));
  for (let k: usize = 0; k < (<usize>frames) << 2; k += 16) {
    const bits = random(i32x4.add(i32x4.mul(count, golden), i32x4.splat(seed)));
    const dither = i32x4.sub(i32x4.shr_u(bits, 16), v128.and(bits, i32x4.splat(0xffff)));
    const four = v128.load(samples + k);
    const low = rounded(four, dither, scale);
    const high = rounded(
      v128.shuffle<f32>(four, four, 2, 3, 2, 3),
      v128.shuffle<i32>(dither, dither, 2, 3, 2, 3),
      scale,
    );
    const sound = f32x4.ne(four, f32x4.splat(0));
    v128.store(out + k, v128.and(v128.shuffle<i32>(low, high, 0, 2, 4, 6), sound));
    count = i32x4.add(count, i32x4.splat(4));
  }
}

/** Whole numbers as two bytes each, `stride` bytes apart. */
export function to16(values: usize, frames: i32, stride: i32, bytes: usize): void {
  for (let i = 0; i < frames; i++) {
    store<i16>(bytes, <i16>load<i32>(values));
    bytes += stride;
    values += 4;
  }
}

/** As three bytes each. */
export function to24(values: usize, frames: i32, stride: i32, bytes: usize): void {
  for (let i = 0; i < frames; i++) {
    const value = load<i32>(values);
    store<i16>(bytes, <i16>value);
    store<i8>(bytes, <i8>(value >> 16), 2);
    bytes += stride;
    values += 4;
  }
}
