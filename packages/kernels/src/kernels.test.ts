import { compileKernels } from '../../../scripts/kernels.mjs';
import { hann, held, kernels, RealFft, roomFor, tableOf } from './index.ts';
import { KERNELS_WASM } from './kernels-wasm.ts';

/** Evenly spread values from -1 to 1, the same in every run. */
function spread(length: number, seed = 1): Float32Array {
  let state = seed;
  return Float32Array.from({ length }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 31 - 1;
  });
}

const LENGTHS = [0, 1, 3, 4, 5, 16, 479, 1000];

it('carries the very module that its source compiles to', async () => {
  expect(KERNELS_WASM).toBe(await compileKernels());
});

describe('levels of a stretch, by their definitions', () => {
  it.each(LENGTHS)('of %d samples', (length) => {
    const kernel = kernels();
    const samples = spread(length);
    if (length > 3) samples[length - 2] = 0;
    const at = held(samples);
    const other = held(
      samples.map((x) => 2 * x),
      1,
    );
    const total = (of: (x: number) => number) => samples.reduce((all, x) => all + of(x), 0);
    expect(kernel.energy(at, length)).toBeCloseTo(
      total((x) => x * x),
      10,
    );
    const three = roomFor(6);
    kernel.levels(at, length, three);
    const [sum, power, largest] = kernel.f64.subarray(three >> 3, (three >> 3) + 3);
    expect(sum).toBeCloseTo(
      total((x) => x),
      10,
    );
    expect(power).toBeCloseTo(
      total((x) => x * x),
      10,
    );
    expect(largest).toBe(Math.max(0, ...samples.map(Math.abs)));
    expect(kernel.product(at, other, length)).toBeCloseTo(
      total((x) => 2 * x * x),
      10,
    );
    expect(kernel.peak(at, length)).toBe(Math.max(0, ...samples.map(Math.abs)));
    const out = roomFor(2);
    kernel.extremes(at, length, out);
    expect([...kernel.f32.subarray(out >> 2, (out >> 2) + 2)]).toEqual([Math.min(...samples), Math.max(...samples)]);
    const strides = roomFor(100);
    expect(kernel.peaksOfStrides(at, length, strides)).toBe(Math.max(0, ...samples.map(Math.abs)));
    for (let from = 0, k = 0; from < length; from += 16, k++)
      expect(kernel.f32[(strides >> 2) + k]).toBe(Math.max(...samples.slice(from, from + 16).map(Math.abs)));
  });

  it('counts zeros at either end', () => {
    const samples = spread(40).fill(0, 0, 7).fill(0, 37);
    samples[20] = 0;
    expect(kernels().zerosFromStart(held(samples), 40)).toBe(7);
    expect(kernels().zerosToEnd(held(samples), 40)).toBe(3);
    expect(kernels().zerosFromStart(held(new Float32Array(9)), 9)).toBe(9);
    expect(kernels().zerosToEnd(held(new Float32Array(9)), 9)).toBe(9);
  });

  it('finds what is no number or too large, wherever it stands', () => {
    for (const bad of [Number.NaN, Number.POSITIVE_INFINITY, -2e6]) {
      for (const place of [0, 5, 10]) {
        const samples = spread(11);
        expect(kernels().hasBeyond(held(samples), 11, 1e6)).toBe(0);
        samples[place] = bad;
        expect(kernels().hasBeyond(held(samples), 11, 1e6)).toBe(1);
      }
    }
  });

  it('finds three alike in a row above a level, and no two', () => {
    const slope = Float32Array.from({ length: 40 }, (_, i) => 0.01 * i);
    expect(kernels().hasFlat(held(slope), 36, 0.001, 0.05)).toBe(0);
    slope[21] = slope[20];
    expect(kernels().hasFlat(held(slope), 36, 0.001, 0.05)).toBe(0);
    slope[22] = slope[20];
    expect(kernels().hasFlat(held(slope), 36, 0.001, 0.05)).toBe(1);
    expect(kernels().hasFlat(held(slope), 36, 0.001, 0.5)).toBe(0);
  });
});

it('weightedEnergy is two second-order sections in series, cut wherever', () => {
  const kernel = kernels();
  const samples = spread(700);
  const [b0, b1, b2, a1, a2] = [1.5351, -2.6917, 1.1984, -1.6907, 0.7325];
  const [c1, c2] = [-1.99, 0.990072];
  let [x1, x2, y1, y2, z1, z2, expected] = [0, 0, 0, 0, 0, 0, 0];
  for (const x of samples) {
    const y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
    const z = y - 2 * y1 + y2 - c1 * z1 - c2 * z2;
    [x2, x1, y2, y1, z2, z1] = [x1, x, y1, y, z1, z];
    expected += z * z;
  }
  const [coefficients, state] = [roomFor(16), roomFor(16)];
  kernel.f64.set([b0, b1, b2, a1, a2, c1, c2], coefficients >> 3);
  kernel.f64.fill(0, state >> 3, (state >> 3) + 6);
  const at = held(samples);
  let energy = 0;
  for (const [from, to] of [
    [0, 1],
    [1, 2],
    [2, 300],
    [300, 300],
    [300, 700],
  ])
    energy += kernel.weightedEnergy(at + 4 * from, to - from, coefficients, state);
  expect(energy / expected).toBeCloseTo(1, 10);
});

it('halve gives every second value of its 15 taps', () => {
  const kernel = kernels();
  const samples = spread(64);
  const taps = [0.3, -0.09, 0.04, -0.01];
  const out = roomFor(32);
  kernel.halve(held(samples), 20, tableOf(taps), out);
  for (let n = 0; n < 20; n++) {
    const m = 2 * n + 7;
    const wings = taps.reduce((sum, tap, p) => sum + tap * (samples[m - 2 * p - 1] + samples[m + 2 * p + 1]), 0);
    expect(kernel.f32[(out >> 2) + n]).toBeCloseTo(0.5 * samples[m] + wings, 6);
  }
});

it('exponentials and logarithms are right within single precision', () => {
  const numbers = Float32Array.from({ length: 400 }, (_, i) => (i - 200) / 3);
  const at = tableOf(numbers);
  const results = kernels().f32.subarray(at >> 2, (at >> 2) + 400);
  kernels().exponentials(at, 400);
  numbers.forEach((x, i) => expect(results[i] / Math.exp(Math.max(-87, x))).toBeCloseTo(1, 5));
  const positive = numbers.map((x) => Math.exp(x / 2));
  results.set(positive);
  kernels().logarithms(at, 400);
  positive.forEach((x, i) => expect(results[i]).toBeCloseTo(Math.log(x), 5));
});

it('cascade is its sections one after the other, cut wherever', () => {
  const kernel = kernels();
  const sections = Array.from({ length: 8 }, (_, k) => [1 + k / 20, -0.3, 0.2, -1.2 + 0.1 * k, 0.5]);
  const samples = spread(200);
  const expected = Float64Array.from(samples);
  for (const [b0, b1, b2, a1, a2] of sections) {
    let [x1, x2, y1, y2] = [0, 0, 0, 0];
    expected.forEach((x, i) => {
      const y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
      [x2, x1, y2, y1] = [x1, x, y1, y];
      expected[i] = y;
    });
  }
  const [coefficients, states, work] = [roomFor(80), roomFor(64), roomFor(400)];
  kernel.f64.set(sections.flat(), coefficients >> 3);
  kernel.f64.fill(0, states >> 3, (states >> 3) + 32);
  const at = held(samples);
  for (const [from, to] of [
    [0, 1],
    [1, 3],
    [3, 6],
    [6, 10],
    [10, 11],
    [11, 200],
  ])
    kernel.cascade(at + 4 * from, to - from, 2, coefficients, states, work);
  const largest = Math.max(...expected.map(Math.abs));
  for (let i = 0; i < 200; i++) expect(Math.abs(kernel.f32[(at >> 2) + i] - expected[i])).toBeLessThan(1e-7 * largest);
});

it('symmetric is the sum over its taps', () => {
  const kernel = kernels();
  const taps = [0.1, -0.2, 0.3, 0.5];
  const samples = spread(40);
  const out = roomFor(48);
  kernel.symmetric(held(samples), 34, tableOf(taps), 3, out);
  for (let n = 0; n < 34; n++) {
    const sum = taps.reduce((all, tap, k) => all + tap * (samples[n + k] + (k < 3 ? samples[n + 6 - k] : 0)), 0);
    expect(kernel.f32[(out >> 2) + n]).toBeCloseTo(sum, 6);
  }
});

it('interpolate and decimate are the sums over their taps', () => {
  const kernel = kernels();
  const samples = spread(40);
  const rows = [0.1, 0.2, -0.3, 0.4, 0.5, -0.6, 0.7, 0.8];
  const out = roomFor(100);
  kernel.interpolate(held(samples), 18, tableOf(rows), 4, 2, out);
  for (let i = 0; i < 18; i++)
    for (const phase of [0, 1]) {
      const sum = [0, 1, 2, 3].reduce((all, j) => all + rows[4 * phase + j] * samples[i + 1 + j], 0);
      expect(kernel.f32[(out >> 2) + 2 * i + phase]).toBeCloseTo(sum, 6);
    }
  const taps = [0.3, 0.2, 0.1, -0.1, -0.2, 0, 0, 0];
  kernel.decimate(held(samples), 10, 3, tableOf(taps), 8, out);
  for (let i = 0; i < 10; i++) {
    const sum = taps.reduce((all, tap, k) => all + tap * samples[3 * i + k], 0);
    expect(kernel.f32[(out >> 2) + i]).toBeCloseTo(sum, 6);
  }
});

it.each([0, 0.5])('saturated is the tangent about a bias of %d, with unit slope at silence', (bias) => {
  const values = Float32Array.from({ length: 200 }, (_, i) => 2 * Math.sinh((i - 100) / 20));
  const slope = 1 - Math.tanh(bias) ** 2;
  const at = held(values);
  kernels().saturated(at, 200, 1.5, bias, slope);
  values.forEach((x, i) => {
    const wanted = (Math.tanh(1.5 * x + bias) - Math.tanh(bias)) / slope / 1.5;
    expect(Math.abs(kernels().f32[(at >> 2) + i] - wanted)).toBeLessThan(3e-7);
  });
});

it('whole numbers of 16 and 24 bits come back, wherever they lie', () => {
  const kernel = kernels();
  const values = [0, 1, -1, 255, -256, 32767, -32768];
  const [numbers, bytes, out] = [roomFor(8), roomFor(32) + 4, roomFor(8)];
  for (const [width, full] of [
    [2, 2 ** 15],
    [3, 2 ** 23],
  ] as const) {
    const scaled = values.map((x) => (width === 3 ? 256 * x + (x < 0 ? 0 : 77) : x));
    kernel.i32.set(scaled, numbers >> 2);
    kernel[width === 3 ? 'to24' : 'to16'](numbers, 7, 2 * width, bytes + width);
    kernel[width === 3 ? 'from24' : 'from16'](bytes + width, 7, 2 * width, out);
    expect([...kernel.f32.subarray(out >> 2, (out >> 2) + 7)]).toEqual(scaled.map((x) => x / full));
  }
});

describe('RealFft', () => {
  // powers of four and twice those, halved: both ways through the last stage
  it.each([64, 128, 256, 2048])('of %d samples is the discrete Fourier transform by its sum', (size) => {
    const samples = spread(size, 3);
    const window = hann(size);
    const fft = new RealFft(size);
    const [re, im] = [new Float32Array(fft.bins), new Float32Array(fft.bins)];
    for (const shape of [undefined, 'hann'] as const) {
      fft.forward(samples, re, im, shape);
      let worst = 0;
      for (let k = 0; k < fft.bins; k++) {
        let [sumRe, sumIm] = [0, 0];
        for (let n = 0; n < size; n++) {
          const x = samples[n] * (shape ? window[n] : 1);
          sumRe += x * Math.cos((2 * Math.PI * k * n) / size);
          sumIm -= x * Math.sin((2 * Math.PI * k * n) / size);
        }
        worst = Math.max(worst, Math.abs(re[k] - sumRe), Math.abs(im[k] - sumIm));
      }
      // against bins of about the square root of the size
      expect(worst / Math.sqrt(size)).toBeLessThan(2e-6);
    }
  });

  it.each([64, 128, 1024, 32768])('of %d samples comes back by its inverse', (size) => {
    const samples = spread(size, 4);
    const fft = new RealFft(size);
    const [re, im, back] = [new Float32Array(fft.bins), new Float32Array(fft.bins), new Float32Array(size)];
    fft.forward(samples, re, im);
    fft.inverse(re, im, back);
    let worst = 0;
    for (let i = 0; i < size; i++) worst = Math.max(worst, Math.abs(back[i] - samples[i]));
    expect(worst).toBeLessThan(1e-6);
  });

  it('keeps energy: Parseval', () => {
    const samples = spread(2048, 5);
    const fft = new RealFft(2048);
    const [re, im] = [new Float32Array(fft.bins), new Float32Array(fft.bins)];
    fft.forward(samples, re, im);
    let power = 0;
    for (let k = 0; k < fft.bins; k++) power += (k === 0 || k === fft.bins - 1 ? 1 : 2) * (re[k] ** 2 + im[k] ** 2);
    expect(power / 2048 / samples.reduce((sum, x) => sum + x * x, 0)).toBeCloseTo(1, 6);
  });

  it('refuses sizes that are no power of two', () => {
    expect(() => new RealFft(1000)).toThrow('power of two');
  });
});

describe('prediction, by its definitions', () => {
  it.each([
    [40, 16],
    [401, 34],
    [1000, 7],
  ])('of %d samples, order %d', (length, order) => {
    const kernel = kernels();
    const samples = Float64Array.from(spread(length));
    const lags = (order + 4) & ~3;
    const at = roomFor(2 * (length + lags + 2));
    const out = roomFor(2 * (length + 4));
    kernel.f64.set(samples, at >> 3);
    kernel.f64.fill(0, (at >> 3) + length, (at >> 3) + length + lags + 1);
    kernel.autocorrelation(at, length, lags, out);
    for (let lag = 0; lag <= order; lag++) {
      const sum = samples.reduce((all, x, n) => all + (n < lag ? 0 : x * samples[n - lag]), 0);
      expect(kernel.f64[(out >> 3) + lag]).toBeCloseTo(sum, 10);
    }
    const a = Float64Array.from(spread(order + 1, 5));
    const coefficients = roomFor(2 * (order + 1));
    kernel.f64.set(a, coefficients >> 3);
    kernel.predictionErrors(at + 8 * order, length - order, coefficients, order, out);
    for (let n = order; n < length; n++) {
      const sum = a.reduce((all, one, k) => all + one * samples[n - k], 0);
      expect(kernel.f64[(out >> 3) + n - order]).toBeCloseTo(Math.abs(sum), 10);
    }
  });
});
