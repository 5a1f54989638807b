import { cut, MemorySignal } from '../signal/memory.ts';
import { Random } from '../signal/random.ts';
import { babble, mixed, noise } from '../testing/index.ts';
import { type Alignment, alignSources } from './align.ts';
import { fitLine } from './fit-line.ts';

const RATE = 8000;
const signalOf = (samples: Float32Array, rate = RATE) =>
  new MemorySignal({ sampleRateHz: rate, channels: 1 }, [...cut([samples], 4096)]);

/** What another recorder has of a sound: begun later, by a clock that is faster, by a windowed sinc at each of its samples. */
function otherRecorder(samples: Float32Array, offsetSeconds: number, driftPpm: number, seconds: number, rate = RATE) {
  const TAPS = 16;
  return Float32Array.from({ length: Math.round(seconds * rate) }, (_, n) => {
    const at = (offsetSeconds + n / rate / (1 + driftPpm * 1e-6)) * RATE;
    const whole = Math.floor(at);
    let sum = 0;
    for (let k = whole - TAPS + 1; k <= whole + TAPS; k++) {
      const x = at - k;
      const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
      sum += (samples[k] ?? 0) * sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / TAPS));
    }
    return sum;
  });
}

async function alignmentOf(first: Float32Array, other: Float32Array): Promise<Alignment> {
  const [own, found] = await alignSources([signalOf(first), signalOf(other)]);
  expect(own).toEqual({ offsetSeconds: 0, driftPpm: 0, confidence: 1 });
  return found;
}

const voice = babble(150, RATE);

it.each([
  ['later', 3.21, 0],
  ['earlier', -2.345, 0],
  ['with a faster clock', 1.5, 60],
  ['with a slower clock', -4, -85],
])('finds a recorder that began %s', async (_, offsetSeconds, driftPpm) => {
  const other = mixed(otherRecorder(voice, offsetSeconds, driftPpm, 145), noise(0.0005, 145, RATE, 4));
  const found = await alignmentOf(mixed(voice, noise(0.0005, 150, RATE, 3)), other);
  expect(Math.abs(found.offsetSeconds - offsetSeconds)).toBeLessThan(0.0003);
  expect(Math.abs(found.driftPpm - driftPpm)).toBeLessThan(2);
  expect(found.confidence).toBeGreaterThan(0.9);
});

it('finds one that is 20 dB noisier', async () => {
  const other = mixed(otherRecorder(voice, 2.5, 30, 140), noise(0.02, 140, RATE, 5));
  const found = await alignmentOf(mixed(voice, noise(0.002, 150, RATE, 3)), other);
  expect(Math.abs(found.offsetSeconds - 2.5)).toBeLessThan(0.001);
  expect(Math.abs(found.driftPpm - 30)).toBeLessThan(4);
  expect(found.confidence).toBeGreaterThan(0.5);
});

it('finds one that hears the first speaker only by bleed', async () => {
  const guest = babble(150, RATE, 31);
  const near = mixed(
    voice,
    guest.map((x) => 0.05 * x),
    noise(0.0003, 150, RATE, 3),
  );
  const far = mixed(
    guest,
    voice.map((x) => 0.05 * x),
  );
  const other = mixed(otherRecorder(far, 1.25, -20, 140), noise(0.0003, 140, RATE, 6));
  const found = await alignmentOf(near, other);
  expect(Math.abs(found.offsetSeconds - 1.25)).toBeLessThan(0.001);
  expect(Math.abs(found.driftPpm + 20)).toBeLessThan(2);
  expect(found.confidence).toBeGreaterThan(0.5);
});

it('is exact for a short one at another rate', async () => {
  const source = babble(12, 16_000);
  const every = source.filter((_, i) => i % 2 === 0); // 8 kHz: what folds back is the same for the ear of envelopes
  const [, found] = await alignSources([signalOf(source, 16_000), signalOf(every.slice(RATE * 2))]);
  expect(Math.abs(found.offsetSeconds - 2)).toBeLessThan(0.001);
  expect(found.driftPpm).toBe(0);
});

it('says that recordings have nothing in common', async () => {
  const strangers = [babble(150, RATE, 99), noise(0.1, 150, RATE), new Float32Array(150 * RATE)];
  for (const stranger of strangers) expect((await alignmentOf(voice, stranger)).confidence).toBeLessThan(0.3);
  expect((await alignmentOf(voice, new Float32Array(0))).confidence).toBe(0);
});

it('fits a line through what agrees, whatever the rest says', () => {
  const random = new Random(1);
  const points = Array.from({ length: 40 }, (_, i) => ({
    x: i * 10,
    y: i % 3 ? 0.5 + 60e-6 * i * 10 + 1e-5 * random.normal() : random.next(),
  }));
  const line = fitLine(points, 200e-6, 0.0015)!;
  expect(Math.abs(line.offset - 0.5)).toBeLessThan(0.0003);
  expect(Math.abs(line.slope * 1e6 - 60)).toBeLessThan(2);
  expect(line.on.length).toBeGreaterThanOrEqual(26);
});
