import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

/**
 * Runs a curve at a multiple of the rate, so that the harmonics it makes do not fold back: interpolation and decimation by one
 * Kaiser-windowed sinc, flat within 0.01 dB to 0.83 of Nyquist and down by 100 dB from 1.17 of it.
 */
const REACH = 20; // input frames on either side
const ATTENUATION_DB = 100;

export class Oversampler {
  /** Frames by which output lags input. */
  readonly latencyFrames = 2 * REACH;
  private readonly phases: Float64Array[];
  private readonly taps: Float64Array;
  private input = new Float64Array(2 * REACH);
  private high: Float64Array;

  constructor(private readonly factor: number) {
    const length = 2 * REACH * factor + 1;
    const beta = kaiserBeta(ATTENUATION_DB);
    const taps = Float64Array.from({ length }, (_, k) => {
      const x = k - REACH * factor;
      return sinc(x / factor) * kaiser(x / (REACH * factor + 1), beta);
    });
    this.phases = Array.from({ length: factor }, (_, phase) => {
      // output at input time n + phase / factor: taps for inputs n - REACH + 1 ... n + REACH
      const row = Float64Array.from({ length: 2 * REACH }, (__, j) => taps[(2 * REACH - 1 - j) * factor + phase] ?? 0);
      const sum = row.reduce((total, tap) => total + tap, 0);
      return row.map((tap) => tap / sum);
    });
    const sum = taps.reduce((total, tap) => total + tap, 0);
    this.taps = taps.map((tap) => tap / sum);
    this.high = new Float64Array(2 * REACH * factor);
  }

  process(channel: Float32Array, curve: (x: number) => number): void {
    const { factor, phases, taps } = this;
    const frames = channel.length;
    const input = new Float64Array(2 * REACH + frames);
    input.set(this.input);
    for (let i = 0; i < frames; i++) input[2 * REACH + i] = channel[i];
    const held = this.high.length;
    const high = new Float64Array(held + frames * factor);
    high.set(this.high);
    for (let phase = 0; phase < factor; phase++) interpolate(phases[phase], input, high, held + phase, factor, frames);
    for (let i = held; i < high.length; i++) high[i] = curve(high[i]);
    decimate(taps, high, factor, channel);
    this.input = input.slice(frames);
    this.high = high.slice(frames * factor);
  }
}

/** Every `factor`th value of `out` from `first` on: one phase of the interpolator. Four sums at once keep the adders busy. */
function interpolate(
  row: Float64Array,
  input: Float64Array,
  out: Float64Array,
  first: number,
  factor: number,
  frames: number,
): void {
  for (let i = 0, at = first; i < frames; i++, at += factor) {
    let [a, b, c, d] = [0, 0, 0, 0];
    for (let j = 0; j < 2 * REACH; j += 4) {
      a += row[j] * input[i + 1 + j];
      b += row[j + 1] * input[i + 2 + j];
      c += row[j + 2] * input[i + 3 + j];
      d += row[j + 3] * input[i + 4 + j];
    }
    out[at] = a + b + (c + d);
  }
}

/** Symmetrical taps, an odd number of them: those on either side share a product. */
function decimate(taps: Float64Array, high: Float64Array, factor: number, channel: Float32Array): void {
  const last = taps.length - 1;
  const half = last / 2;
  for (let i = 0; i < channel.length; i++) {
    const at = i * factor;
    let [a, b, c, d] = [taps[half] * high[at + half], 0, 0, 0];
    for (let k = 0; k < half; k += 4) {
      a += taps[k] * (high[at + k] + high[at + last - k]);
      b += taps[k + 1] * (high[at + k + 1] + high[at + last - k - 1]);
      c += taps[k + 2] * (high[at + k + 2] + high[at + last - k - 2]);
      d += taps[k + 3] * (high[at + k + 3] + high[at + last - k - 3]);
    }
    channel[i] = a + b + (c + d);
  }
}
