// Whole numbers of 16 and 24 bits, the small end first, to samples and back.

/** Samples of one channel from frames that lie `stride` bytes apart. */
export function from16(bytes: usize, frames: i32, stride: i32, out: usize): void {
  for (let i = 0; i < frames; i++) {
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

function next(state: i32): i32 {
  state ^= state << 13;
  state ^= state >>> 17;
  return state ^ (state << 5);
}

const UNIT: f64 = 1.0 / 4294967296;

/**
 * Samples to whole numbers of `scale` to full scale, with triangular dither of one step each way. Exact zeros stay zeros and take no
 * random numbers. `state`: of xorshift32.
 */
export function dithered(samples: usize, frames: i32, scale: f64, state: usize, out: usize): void {
  let s = load<i32>(state);
  for (let i = 0; i < frames; i++) {
    const x = <f64>load<f32>(samples);
    let value: f64 = 0;
    if (x !== 0) {
      s = next(s);
      const up = <f64>(<u32>s);
      s = next(s);
      value = floor(x * scale + (up - <f64>(<u32>s)) * UNIT + 0.5);
      value = min(scale - 1, max(-scale, value));
    }
    store<i32>(out, <i32>value);
    samples += 4;
    out += 4;
  }
  store<i32>(state, s);
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
