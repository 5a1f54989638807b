import fc from 'fast-check';
import { bell, butterworth, highShelf, lowShelf, notch } from '../dsp/prototypes.ts';
import { type Prototype, prototypePower } from '../dsp/section.ts';
import { levelDb, processBlock, sine } from '../testing/index.ts';

/** Expected magnitudes are the analogue prototypes'; measured ones come from sines through the step. */

const RATE = 44100;

async function measuredDb(kind: string, settings: Record<string, unknown>, hz: number, rate = RATE): Promise<number> {
  const input = sine(hz, 0.5, 1, rate);
  const { output } = await processBlock([{ kind, settings }], [input], rate);
  // the second half: the start-up has died away
  const half = Math.floor(input.length / 2);
  return levelDb(output[0].subarray(half)) - levelDb(input.subarray(half));
}

const theoryDb = (prototypes: Prototype[], hz: number) =>
  prototypes.reduce((sum, prototype) => sum + 10 * Math.log10(prototypePower(prototype, hz)), 0);

const tolerance = (hz: number) => (hz <= 10000 ? 0.1 : 0.5);
const FREQUENCIES = [40, 100, 500, 2000, 6000, 10000, 14000, 18000];

it.each([
  ['high-pass', 80, 24],
  ['high-pass', 300, 6],
  ['high-pass', 8000, 48],
  ['low-pass', 16000, 24],
  ['low-pass', 3600, 36],
  ['low-pass', 12000, 48],
  ['low-pass', 18000, 12],
] as const)(
  '%s at %d Hz, %d dB per octave is Butterworth up to 18 kHz',
  async (kind, frequencyHz, slopeDbPerOctave) => {
    const prototypes = butterworth(kind === 'high-pass' ? 'high' : 'low', slopeDbPerOctave / 6, frequencyHz);
    for (const hz of FREQUENCIES) {
      const theory = theoryDb(prototypes, hz);
      if (theory < -70) continue;
      expect(Math.abs((await measuredDb(kind, { frequencyHz, slopeDbPerOctave }, hz)) - theory)).toBeLessThan(
        tolerance(hz),
      );
    }
  },
);

it('is down by 3.01 dB at the corner of every slope', async () => {
  for (const slopeDbPerOctave of [6, 12, 18, 24, 36, 48]) {
    expect(await measuredDb('high-pass', { frequencyHz: 1000, slopeDbPerOctave }, 1000)).toBeCloseTo(-3.01, 1);
  }
});

it.each([
  ['bell', bell, 3000, 9, 1.5],
  ['bell', bell, 14000, -12, 0.8],
  ['low-shelf', lowShelf, 200, 6, 0.7],
  ['high-shelf', highShelf, 9000, 8, 0.7],
  ['notch', (hz: number, _: number, q: number) => notch(hz, q), 5000, 0, 2],
] as const)("EQ %s keeps the prototype's magnitude", async (shape, prototype, frequencyHz, gainDb, q) => {
  for (const hz of FREQUENCIES) {
    const measured = await measuredDb('parametric-eq', { bands: [{ shape, frequencyHz, gainDb, q }] }, hz);
    expect(Math.abs(measured - theoryDb([prototype(frequencyHz, gainDb, q)], hz))).toBeLessThan(tolerance(hz));
  }
});

/** |H| in dB at a frequency, from an impulse and its response. */
function responseDb(response: Float32Array, hz: number): number {
  const w = (2 * Math.PI * hz) / RATE;
  const [re, im] = [Math.cos, Math.sin].map((of) => response.reduce((sum, x, n) => sum + x * of(w * n), 0));
  return 10 * Math.log10(re * re + im * im);
}

it('many EQ bands together keep the product of their prototypes, whatever they are', async () => {
  const shapes = { bell, 'low-shelf': lowShelf, 'high-shelf': highShelf };
  const band = fc.record({
    shape: fc.constantFrom('bell' as const, 'low-shelf' as const, 'high-shelf' as const),
    frequencyHz: fc.integer({ min: 200, max: 9000 }),
    gainDb: fc.integer({ min: -9, max: 9 }),
    q: fc.constantFrom(0.5, 0.7, 1, 2),
  });
  const impulse = new Float32Array(16384);
  impulse[0] = 1;
  await fc.assert(
    fc.asyncProperty(fc.array(band, { minLength: 1, maxLength: 16 }), async (bands) => {
      const { output } = await processBlock([{ kind: 'parametric-eq', settings: { bands } }], [impulse], RATE);
      const prototypes = bands.map(({ shape, frequencyHz, gainDb, q }) => shapes[shape](frequencyHz, gainDb, q));
      for (const hz of [100, 500, 2000, 6000, 10000, 14000, 18000])
        expect(Math.abs(responseDb(output[0], hz) - theoryDb(prototypes, hz))).toBeLessThan(tolerance(hz));
    }),
    { numRuns: 40 },
  );
});

it("reaches half a shelf's gain at its frequency", async () => {
  const settings = { bands: [{ shape: 'high-shelf', frequencyHz: 4000, gainDb: 6, q: 0.7 }] };
  expect(await measuredDb('parametric-eq', settings, 4000)).toBeCloseTo(3, 1);
});

it('is flat with no bands, and with bands that are off', async () => {
  const settings = { bands: [{ shape: 'bell', frequencyHz: 1000, gainDb: 12, q: 1, on: false }] };
  expect(await measuredDb('parametric-eq', settings, 1000)).toBeCloseTo(0, 6);
});

it('holds at 96 kHz', async () => {
  expect(await measuredDb('low-pass', { frequencyHz: 16000, slopeDbPerOctave: 24 }, 18000, 96000)).toBeCloseTo(
    theoryDb(butterworth('low', 4, 16000), 18000),
    1,
  );
});
