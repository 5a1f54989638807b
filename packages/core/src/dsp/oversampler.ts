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
    for (let i = 0; i < frames; i++) {
      for (let phase = 0; phase < factor; phase++) {
        const row = phases[phase];
        let sum = 0;
        for (let j = 0; j < row.length; j++) sum += row[j] * input[i + 1 + j];
        high[held + i * factor + phase] = curve(sum);
      }
    }
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      const at = i * factor;
      for (let k = 0; k < taps.length; k++) sum += taps[k] * high[at + k];
      channel[i] = sum;
    }
    this.input = input.slice(frames);
    this.high = high.slice(frames * factor);
  }
}
