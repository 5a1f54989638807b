import { kernels, once, roomFor, tableOf } from '@tonos/kernels';
import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

/**
 * Runs a curve at a multiple of the rate, so that the harmonics it makes do not fold back: interpolation and decimation by one
 * Kaiser-windowed sinc, flat within 0.01 dB to 0.83 of Nyquist and down by 100 dB from 1.17 of it.
 */
const REACH = 20; // input frames on either side
const ATTENUATION_DB = 100;

/** Frames that go through the kernel at a time. */
const CHUNK = 2048;
const MOST_FACTOR = 48;
const HELD = 2 * REACH;

interface Tables {
  /** A row of taps for each phase. */
  rows: number;
  /** Those of the decimator, zeros behind. */
  taps: number;
  length: number;
}

const tables = new Map<number, Tables>();
const room = once(() => ({
  samples: roomFor(HELD + CHUNK + 4),
  high: roomFor((HELD + CHUNK + 4) * MOST_FACTOR + 8),
  out: roomFor(CHUNK),
}));

/** A curve over values at the higher rate: where they lie for kernels, and how many. */
export type Curve = (values: number, count: number) => void;

export class Oversampler {
  /** Frames by which output lags input. */
  readonly latencyFrames = 2 * REACH;
  private readonly kernel = kernels();
  private readonly tables: Tables;
  private readonly input = new Float32Array(HELD);
  private readonly high: Float32Array;

  /** @param factor at most 48 */
  constructor(private readonly factor: number) {
    this.tables = tables.get(factor) ?? makeTables(factor);
    tables.set(factor, this.tables);
    this.high = new Float32Array(HELD * factor);
  }

  process(channel: Float32Array, curve: Curve): void {
    for (let start = 0; start < channel.length; start += CHUNK)
      this.processChunk(channel.subarray(start, Math.min(channel.length, start + CHUNK)), curve);
  }

  private processChunk(channel: Float32Array, curve: Curve): void {
    const { kernel, factor, input, high } = this;
    const { f32 } = kernel;
    const { rows, taps, length } = this.tables;
    const { samples, high: values, out } = room();
    const frames = channel.length;
    f32.set(input, samples >> 2);
    f32.set(channel, (samples >> 2) + HELD);
    f32.set(high, values >> 2);
    const fresh = values + 4 * high.length;
    kernel.interpolate(samples, frames, rows, HELD, factor, fresh);
    curve(fresh, frames * factor);
    kernel.decimate(values, frames, factor, taps, length, out);
    input.set(f32.subarray((samples >> 2) + frames, (samples >> 2) + frames + HELD));
    high.set(f32.subarray((values >> 2) + frames * factor, (values >> 2) + frames * factor + high.length));
    channel.set(f32.subarray(out >> 2, (out >> 2) + frames));
  }
}

function makeTables(factor: number): Tables {
  const beta = kaiserBeta(ATTENUATION_DB);
  const taps = Float64Array.from({ length: HELD * factor + 1 }, (_, k) => {
    const x = k - REACH * factor;
    return sinc(x / factor) * kaiser(x / (REACH * factor + 1), beta);
  });
  const rows = Array.from({ length: factor }, (_, phase) => {
    // output at input time n + phase / factor: taps for inputs n - REACH + 1 ... n + REACH
    const row = Float64Array.from({ length: HELD }, (__, j) => taps[(HELD - 1 - j) * factor + phase] ?? 0);
    const sum = row.reduce((total, tap) => total + tap, 0);
    return row.map((tap) => tap / sum);
  });
  const sum = taps.reduce((total, tap) => total + tap, 0);
  const length = 8 * Math.ceil(taps.length / 8);
  const padded = Float64Array.from({ length }, (_, k) => (taps[k] ?? 0) / sum);
  return { rows: tableOf(rows.flatMap((row) => [...row])), taps: tableOf(padded), length };
}
