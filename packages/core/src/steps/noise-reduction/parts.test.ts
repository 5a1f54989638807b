import { Random } from '../../signal/random.ts';
import { exponentialIntegral, RISE_TABLE } from './log-spectral-gain.ts';
import { NoiseTracker } from './noise-tracker.ts';
import { spectrumRoom } from './spectrum-room.ts';

/** The kernel's gain where speech is certain: a-priori ratio xi as it was before, a-posteriori ratio gamma. */
function logSpectralGain(xi: number, gamma: number): number {
  const { kernel, slots, table } = spectrumRoom(4);
  const { power, expected: noise, likely: certain, before: previous, gain: gains } = slots;
  for (const [at, value] of [
    [power, gamma],
    [noise, 1],
    [certain, 1],
    [previous, xi],
    [gains, 0],
  ])
    kernel.f32.fill(value, at >> 2, (at >> 2) + 4);
  const { first, perOctave, least, most } = RISE_TABLE;
  kernel.spectralGains(
    power,
    noise,
    certain,
    previous,
    gains,
    4,
    1,
    1e-6,
    1,
    1e-6,
    0,
    table,
    first,
    perOctave,
    least,
    most,
  );
  return kernel.f32[gains >> 2];
}

/** E1(x) by Simpson's rule over t = x .. x + 60. */
function integral(x: number): number {
  const steps = 200_000;
  const width = 60 / steps;
  const f = (t: number) => Math.exp(-t) / t;
  let sum = f(x) + f(x + 60);
  for (let i = 1; i < steps; i++) sum += (i % 2 ? 4 : 2) * f(x + i * width);
  return (sum * width) / 3;
}

it.each([0.05, 0.5, 0.999, 1.001, 3, 10])('the exponential integral at %d is that of its definition', (x) => {
  expect(exponentialIntegral(x) / integral(x)).toBeCloseTo(1, 6);
});

it('has the values of Abramowitz and Stegun, table 5.1', () => {
  expect(exponentialIntegral(0.5)).toBeCloseTo(0.559773595, 8);
  expect(exponentialIntegral(1)).toBeCloseTo(0.219383934, 8);
  expect(exponentialIntegral(2)).toBeCloseTo(0.048900511, 8);
});

describe('the gain of Ephraim and Malah', () => {
  it('is that of the formula, within 0.01 dB', () => {
    for (const xi of [0.01, 0.3, 1, 10, 100]) {
      // octaves' ends, what lies between them, and what lies beyond both ends of the table
      for (const gamma of [1e-6, 0.02, 0.1, 1, 1.99, 5, 30, 300]) {
        const wiener = xi / (1 + xi);
        const exact = wiener * Math.exp(0.5 * exponentialIntegral(Math.max(1e-4, gamma * wiener)));
        // more than all is never asked for
        const wanted = Math.min(1, exact);
        expect(Math.abs(20 * Math.log10(logSpectralGain(xi, gamma) / wanted))).toBeLessThan(0.01);
      }
    }
  });

  it('nears the Wiener gain where the signal is strong', () => {
    expect(logSpectralGain(1000, 1000)).toBeCloseTo(1000 / 1001, 5);
  });

  it('grows with the a-priori ratio', () => {
    let last = 0;
    for (let xi = 0.01; xi < 20; xi *= 1.5) {
      const gain = logSpectralGain(xi, 2);
      expect(gain).toBeGreaterThan(last);
      last = gain;
    }
  });
});

describe('the noise tracker', () => {
  const random = new Random(2);
  /** |X|^2 of a bin of white noise is exponentially distributed. */
  const noisePower = (mean: number) => -mean * Math.log(1 - random.next());
  const meanDb = (tracker: NoiseTracker) =>
    10 * Math.log10(tracker.powers.reduce((sum, x) => sum + x, 0) / tracker.powers.length);
  const feed = (tracker: NoiseTracker, hops: number, mean: number) => {
    const { kernel, slots } = spectrumRoom(64);
    for (let i = 0; i < hops; i++) {
      for (let k = 0; k < 64; k++) kernel.f32[(slots.power >> 2) + k] = noisePower(mean);
      tracker.next(slots.power);
    }
  };

  it('finds the level of steady noise within 1 dB, and follows a rise of 6 dB within a second', () => {
    const tracker = new NoiseTracker(64, 0.01);
    feed(tracker, 200, 1);
    expect(Math.abs(meanDb(tracker))).toBeLessThan(1);
    feed(tracker, 100, 4);
    expect(Math.abs(meanDb(tracker) - 6)).toBeLessThan(1.5);
  });

  it('is not carried away by half a second of speech 20 dB above it', () => {
    const tracker = new NoiseTracker(64, 0.01);
    feed(tracker, 200, 1);
    feed(tracker, 50, 100);
    expect(meanDb(tracker)).toBeLessThan(3);
  });
});
