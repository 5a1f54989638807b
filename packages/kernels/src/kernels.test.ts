import { compileKernels } from '../../../scripts/kernels.mjs';
import { hann, held, inPlace, keeping, kernels, RealFft, roomFor, tableOf } from './index.ts';
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

it.each([4, 24, 48])('the largest second difference of each group of %d samples, by its definition', (size) => {
  const groups = 5;
  const samples = spread(4 + groups * size);
  const out = roomFor(groups);
  const kernel = kernels();
  kernel.jumpsOfGroups(held(samples) + 4 * 4, groups, size, out);
  const jumps = Array.from({ length: groups }, (_, k) => {
    const own = Array.from({ length: size }, (_, i) => 4 + k * size + i);
    return Math.max(...own.map((n) => Math.abs(samples[n] - 2 * samples[n - 1] + samples[n - 2])));
  });
  jumps.forEach((jump, k) => expect(kernel.f32[(out >> 2) + k]).toBeCloseTo(jump, 6));
});

it('finds what is kept where it lies, any stretch of it, and puts what is not beside it', () => {
  const samples = spread(1000);
  const other = spread(1000, 2);
  const { f32 } = kernels();
  const first = (at: number) => f32[at >> 2];
  keeping([samples], () => {
    const at = held(samples);
    expect(held(samples.subarray(100, 200))).toBe(at + 400);
    expect(first(held(other))).toBe(other[0]);
    expect(first(held(samples.slice(7)))).toBe(samples[7]);
    inPlace(other, [], (_, place) => f32.fill(0, place >> 2, (place >> 2) + 1000));
    expect(first(at)).toBe(samples[0]);
  });
  samples[0] = 5;
  expect(first(held(samples))).toBe(5);
});

it.each([1, 4, 7, 33])('adds the product of two spectra of %d bins', (bins) => {
  const { f32, addProduct } = kernels();
  const [a, b, c, d, e, f] = [1, 2, 3, 4, 5, 6].map((seed) => spread(bins, seed));
  const [sumRe, sumIm, ...rest] = [a, b, c, d, e, f].map((values) => tableOf(values));
  addProduct(sumRe, sumIm, rest[0], rest[1], rest[2], rest[3], bins);
  for (let k = 0; k < bins; k++) {
    expect(f32[(sumRe >> 2) + k]).toBeCloseTo(a[k] + c[k] * e[k] - d[k] * f[k], 5);
    expect(f32[(sumIm >> 2) + k]).toBeCloseTo(b[k] + c[k] * f[k] + d[k] * e[k], 5);
  }
});

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

it('decibels and factors are right within single precision, at their ends too', () => {
  const levels = Float32Array.from({ length: 401 }, (_, i) => (i - 300) / 1.5);
  const gains = levels.slice();
  inPlace(gains, [], (count, at) => kernels().factors(at, count));
  levels.forEach((db, i) => expect(gains[i] / 10 ** (db / 20)).toBeCloseTo(1, 5));
  expect(gains[300]).toBe(1);
  const powers = gains.map((gain) => gain * gain);
  powers[0] = 0;
  inPlace(powers, [], (count, at) => kernels().decibels(at, count));
  levels.subarray(1).forEach((db, i) => expect(Math.abs(powers[i + 1] - db)).toBeLessThan(2e-5));
  expect(powers[0]).toBeCloseTo(-300, 3);
});

it('averages are those of the last values, each at most the largest there may be', () => {
  const kernel = kernels();
  const values = spread(50).map((x) => 3 + x);
  const [ring, state] = [roomFor(14), roomFor(4)];
  kernel.f64.fill(0, ring >> 3, (ring >> 3) + 7);
  kernel.f64.fill(0, state >> 3, (state >> 3) + 2);
  const means = values.slice();
  for (const part of [means.subarray(0, 11), means.subarray(11)])
    inPlace(part, [], (count, at) => kernel.averages(at, count, 3.5, ring, 7, 2 ** 40, state));
  for (let n = 0; n < 50; n++) {
    let sum = 0;
    for (let m = Math.max(0, n - 6); m <= n; m++) sum += Math.min(3.5, values[m]);
    expect(means[n]).toBeCloseTo(sum / 7, 5);
  }
});

it('follow is a one-pole with two speeds', () => {
  const values = spread(30);
  const found = values.slice();
  let last = 0;
  inPlace(found, [], (count, at) => {
    last = kernels().follow(at, count, 0.5, 0.1, 0.25);
  });
  let value = 0.25;
  values.forEach((x, i) => {
    value += (x > value ? 0.5 : 0.1) * (x - value);
    if (value < 1e-9) value = 0;
    expect(found[i]).toBeCloseTo(value, 6);
  });
  expect(last).toBeCloseTo(value, 6);
});

it('ramps go on straight lines from aim to aim, begun anywhere in a step', () => {
  const kernel = kernels();
  const aims = [1, 0.5, 0.5, 2];
  const out = roomFor(40);
  for (let phase = 0; phase < 8; phase++)
    for (let frames = 1; frames <= 32 - phase; frames++) {
      kernel.ramps(tableOf(aims), frames, phase, 3, 2, out);
      const points = [3, 2, ...aims];
      for (let i = 0; i < frames; i++) {
        const step = Math.floor((phase + i) / 8);
        const share = ((phase + i) % 8) + 1;
        const expected = points[step] + (share / 8) * (points[step + 1] - points[step]);
        expect(kernel.f32[(out >> 2) + i]).toBeCloseTo(expected, 6);
      }
    }
});

it('amplify and withoutShare are what they say, over more than one stretch too', () => {
  const [samples, band, gains] = [spread(70_001), spread(70_001, 2), spread(70_001, 3)];
  const [amplified, without] = [samples.slice(), samples.slice()];
  inPlace(amplified, [gains], (count, at, factors) => kernels().amplify(at, factors, count));
  inPlace(without, [band, gains], (count, at, other, shares) => kernels().withoutShare(at, other, shares, count));
  const wrong = (got: Float32Array, of: (i: number) => number) =>
    got.reduce((most, x, i) => Math.max(most, Math.abs(x - of(i))), 0);
  expect(wrong(amplified, (i) => samples[i] * gains[i])).toBeLessThan(1e-6);
  expect(wrong(without, (i) => samples[i] - gains[i] * band[i])).toBeLessThan(1e-6);
});

it('dither is white, triangular, of its own for each seed, and does not hang on where it is cut', () => {
  const kernel = kernels();
  const half = new Float32Array(60_000).fill(0.25 / 32768);
  const numbers = (seed: number, cuts: readonly number[]) => {
    const out = new Int32Array(half.length);
    for (let k = 0; k + 1 < cuts.length; k++) {
      const [from, to] = [cuts[k], cuts[k + 1]];
      const at = roomFor(to - from + 4);
      kernel.dithered(held(half.subarray(from, to)), to - from, 32768, seed, from, at);
      out.set(kernel.i32.subarray(at >> 2, (at >> 2) + to - from), from);
    }
    return out;
  };
  const whole = numbers(1, [0, 60_000]);
  expect(numbers(1, [0, 1, 7, 30_001, 60_000])).toEqual(whole);
  const errors = Float64Array.from(whole, (value) => value - 0.25);
  const mean = (of: (i: number) => number) => errors.reduce((sum, _, i) => sum + of(i), 0) / errors.length;
  // TPDF makes mean and power of the error free of the signal: 0, and 1/6 + 1/12 of a step squared (Lipshitz and others 1992)
  expect(Math.abs(mean((i) => errors[i]))).toBeLessThan(0.01);
  expect(Math.abs(mean((i) => errors[i] ** 2) - 0.25)).toBeLessThan(0.01);
  for (const lag of [1, 2, 3, 4, 5, 8])
    expect(Math.abs(mean((i) => errors[i] * (errors[i + lag] ?? 0)))).toBeLessThan(0.01);
  const other = numbers(2, [0, 60_000]);
  expect(Math.abs(mean((i) => errors[i] * (other[i] - 0.25)))).toBeLessThan(0.01);
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

it('shape multiplies by a real spectrum, going round', () => {
  const size = 64;
  const fft = new RealFft(size);
  const samples = spread(size);
  // half of x(n - 1) and half of x(n + 1): a real, even impulse, whose spectrum is a cosine
  const gains = Float32Array.from({ length: fft.bins }, (_, k) => Math.cos((2 * Math.PI * k) / size));
  const out = new Float32Array(size);
  fft.shape(samples, gains, out);
  for (let n = 0; n < size; n++)
    expect(out[n]).toBeCloseTo((samples[(n + size - 1) % size] + samples[(n + 1) % size]) / 2, 5);
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
