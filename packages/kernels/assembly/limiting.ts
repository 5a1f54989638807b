// What a limiter does between peaks and gains, in place and in double precision where it runs on from value to value.

/**
 * Each value by the largest of the last `window`: a queue of falling values (Lemire 2006) in a ring of `mask` + 1 places. `values` and `places`
 * of the ring are doubles; `state`: where the queue begins, how long it is, and how many values have come.
 */
export function slidingMaxima(
  samples: usize,
  count: i32,
  window: i32,
  values: usize,
  places: usize,
  mask: i32,
  state: usize,
): void {
  let head = <i32>load<f64>(state);
  let length = <i32>load<f64>(state, 8);
  let place = load<f64>(state, 16);
  for (let k = 0; k < count; k++) {
    const value = <f64>load<f32>(samples);
    if (length && load<f64>(places + ((<usize>head) << 3)) <= place - <f64>window) {
      head = (head + 1) & mask;
      length--;
    }
    while (length && load<f64>(values + ((<usize>((head + length - 1) & mask)) << 3)) <= value) length--;
    const tail = (<usize>((head + length) & mask)) << 3;
    store<f64>(values + tail, value);
    store<f64>(places + tail, place);
    place += 1;
    length++;
    store<f32>(samples, <f32>load<f64>(values + ((<usize>head) << 3)));
    samples += 4;
  }
  store<f64>(state, <f64>head);
  store<f64>(state, <f64>length, 8);
  store<f64>(state, place, 16);
}

/** So close to 1 a recovering gain is 1. */
const NEARLY: f64 = 0.999999;

/**
 * Peaks to the gains that hold them under a ceiling: down at once, up by `release` of what is missing to 1. `state`: the last gain, and for how
 * many frames it has been 1.
 */
export function releasedGains(peaks: usize, count: i32, ceiling: f64, release: f64, state: usize): void {
  let gain = load<f64>(state);
  let calm = load<f64>(state, 8);
  for (let k = 0; k < count; k++) {
    const over = <f64>load<f32>(peaks);
    const needed = over > ceiling ? ceiling / over : 1;
    const risen = gain + release * (1 - gain);
    gain = needed < risen ? needed : risen > NEARLY ? 1 : risen;
    calm = gain === 1 ? calm + 1 : 0;
    store<f32>(peaks, <f32>gain);
    peaks += 4;
  }
  store<f64>(state, gain);
  store<f64>(state, calm, 8);
}
