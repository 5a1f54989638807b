import fc from 'fast-check';
import { cut, MemorySignal } from '../signal/memory.ts';
import type { Block } from '../signal/signal.ts';
import { babble, joined, mixed, noise } from '../testing/index.ts';
import type { SoundFigures } from './measurement.ts';
import { measureSource } from './meter.ts';

/** What must hold between the figures of a recording and those of the same recording changed in a known way. */

const RATES = [44100, 48000, 96000] as const;
const RUNS = 6;

const measure = async (channels: Block, rate: number, blockFrames = 4096): Promise<SoundFigures> =>
  (
    await measureSource(
      new MemorySignal({ sampleRateHz: rate, channels: channels.length }, [...cut(channels, blockFrames)]),
    )
  ).figures;

interface Recipe {
  rate: number;
  seconds: number;
  seed: number;
}

const recipes: fc.Arbitrary<Recipe> = fc.record({
  rate: fc.constantFrom(...RATES),
  seconds: fc.integer({ min: 4, max: 8 }),
  seed: fc.integer({ min: 1, max: 99 }),
});

/** A voice over a room's noise that lies under the absolute gate, whatever gain comes: else a gain would move what is gated. */
const voiceOf = ({ rate, seconds, seed }: Recipe): Float32Array =>
  mixed(babble(seconds, rate, seed), noise(0.0002, seconds, rate, seed)).map((x) => 0.2 * x);

const LEVELS = [
  'integratedLufs',
  'maxMomentaryLufs',
  'maxShortTermLufs',
  'truePeakDbtp',
  'samplePeakDbfs',
  'rmsDbfs',
  'noiseFloorDbfs',
] as const;

it('moves every level by a gain, and nothing else', async () => {
  await fc.assert(
    fc.asyncProperty(recipes, fc.double({ min: -20, max: 6, noNaN: true }), async (recipe, gainDb) => {
      const [rate, voice] = [recipe.rate, voiceOf(recipe)];
      const gain = 10 ** (gainDb / 20);
      const before = await measure([voice], rate);
      const after = await measure([voice.map((x) => gain * x)], rate);
      for (const level of LEVELS) expect(after[level]! - before[level]!).toBeCloseTo(gainDb, 1);
      expect(after.rmsDbfs! - before.rmsDbfs!).toBeCloseTo(gainDb, 4);
      expect(after.crestDb).toBeCloseTo(before.crestDb!, 4);
      expect(after.loudnessRangeLu).toBeCloseTo(before.loudnessRangeLu!, 1);
      expect(after.headSilenceSeconds).toBeCloseTo(before.headSilenceSeconds!, 1);
    }),
    { numRuns: RUNS },
  );
});

/** To a billionth: sums of doubles hang on their order. */
const rounded = (figures: SoundFigures): unknown =>
  JSON.parse(JSON.stringify(figures, (_, value) => (typeof value === 'number' ? Number(value.toFixed(9)) : value)));

it('is the same however blocks are cut', async () => {
  await fc.assert(
    fc.asyncProperty(recipes, fc.integer({ min: 1, max: 70_000 }), async (recipe, blockFrames) => {
      const [rate, voice] = [recipe.rate, voiceOf(recipe)];
      const whole = await measure([voice], rate, voice.length);
      expect(rounded(await measure([voice], rate, blockFrames))).toEqual(rounded(whole));
    }),
    { numRuns: RUNS },
  );
});

it('does not hear polarity, nor which side is which', async () => {
  await fc.assert(
    fc.asyncProperty(recipes, async (recipe) => {
      const [rate, voice] = [recipe.rate, voiceOf(recipe)];
      const other = noise(0.05, voice.length / rate, rate, 3).subarray(0, voice.length);
      const [there, back] = [await measure([voice, other], rate), await measure([other, voice], rate)];
      for (const level of LEVELS) expect(back[level]).toBeCloseTo(there[level]!, 6);
      expect(back.channelCorrelation).toBeCloseTo(there.channelCorrelation!, 6);
      expect(back.channelBalanceDb).toBeCloseTo(-there.channelBalanceDb!, 6);
      const [plus, minus] = [await measure([voice], rate), await measure([voice.map((x) => -x)], rate)];
      for (const level of LEVELS) expect(minus[level]).toBeCloseTo(plus[level]!, 6);
      expect(minus.dcOffset).toBeCloseTo(-plus.dcOffset!, 9);
    }),
    { numRuns: RUNS },
  );
});

it('reads a voice on both sides 3.01 LU louder than on one, and as loud in RMS and peak', async () => {
  await fc.assert(
    fc.asyncProperty(recipes, async (recipe) => {
      const [rate, voice] = [recipe.rate, voiceOf(recipe)];
      const [mono, both] = [await measure([voice], rate), await measure([voice, voice], rate)];
      for (const level of ['integratedLufs', 'maxMomentaryLufs', 'maxShortTermLufs'] as const)
        expect(both[level]! - mono[level]!).toBeCloseTo(10 * Math.log10(2), 2);
      for (const level of ['rmsDbfs', 'samplePeakDbfs', 'truePeakDbtp', 'noiseFloorDbfs'] as const)
        expect(both[level]).toBeCloseTo(mono[level]!, 6);
      expect(both.channelCorrelation).toBeCloseTo(1, 6);
      expect(both.channelBalanceDb).toBeCloseTo(0, 6);
    }),
    { numRuns: RUNS },
  );
});

it('does not let silence behind it change its loudness, peak or noise floor', async () => {
  await fc.assert(
    fc.asyncProperty(recipes, fc.integer({ min: 1, max: 5 }), async (recipe, seconds) => {
      const [rate, voice] = [recipe.rate, voiceOf(recipe)];
      const alone = await measure([voice], rate);
      const longer = await measure([joined(voice, new Float32Array(seconds * rate))], rate);
      // blocks that reach into the silence are quieter: the relative gate leaves most of them out
      expect(Math.abs(longer.integratedLufs! - alone.integratedLufs!)).toBeLessThan(0.5);
      expect(longer.samplePeakDbfs).toBe(alone.samplePeakDbfs);
      expect(longer.truePeakDbtp).toBeCloseTo(alone.truePeakDbtp!, 6);
      // a window may hold 10 ms of the silence
      expect(Math.abs(longer.noiseFloorDbfs! - alone.noiseFloorDbfs!)).toBeLessThan(0.2);
      expect(longer.digitalSilenceSeconds).toBeCloseTo(seconds, 2);
      expect(longer.durationSeconds).toBeCloseTo(alone.durationSeconds + seconds, 9);
    }),
    { numRuns: RUNS },
  );
});

it('reads what is said twice as it reads it once', async () => {
  await fc.assert(
    fc.asyncProperty(recipes, async (recipe) => {
      const [rate, voice] = [recipe.rate, voiceOf(recipe)];
      const [once, twice] = [await measure([voice], rate), await measure([joined(voice, voice)], rate)];
      expect(Math.abs(twice.integratedLufs! - once.integratedLufs!)).toBeLessThan(0.3);
      expect(twice.rmsDbfs).toBeCloseTo(once.rmsDbfs!, 4);
      expect(twice.samplePeakDbfs).toBe(once.samplePeakDbfs);
      expect(twice.noiseFloorDbfs!).toBeLessThanOrEqual(once.noiseFloorDbfs! + 1e-9);
    }),
    { numRuns: RUNS },
  );
});

it('keeps its order: sample peak under true peak, RMS under both, momentary over short-term over integrated', async () => {
  await fc.assert(
    fc.asyncProperty(recipes, async (recipe) => {
      const [rate, voice] = [recipe.rate, voiceOf(recipe)];
      const figures = await measure([voice], rate);
      expect(figures.truePeakDbtp!).toBeGreaterThanOrEqual(figures.samplePeakDbfs! - 0.05);
      expect(figures.rmsDbfs!).toBeLessThan(figures.samplePeakDbfs!);
      expect(figures.noiseFloorDbfs!).toBeLessThan(figures.rmsDbfs!);
      expect(figures.maxMomentaryLufs!).toBeGreaterThanOrEqual(figures.maxShortTermLufs! - 1e-9);
      expect(figures.crestDb).toBeCloseTo(figures.samplePeakDbfs! - figures.rmsDbfs!, 9);
      for (const { startSeconds, endSeconds, confidence } of figures.roomTone) {
        expect(startSeconds).toBeGreaterThanOrEqual(0);
        expect(endSeconds).toBeGreaterThan(startSeconds);
        expect(endSeconds).toBeLessThanOrEqual(figures.durationSeconds + 1e-9);
        expect(confidence).toBeGreaterThanOrEqual(0);
        expect(confidence).toBeLessThanOrEqual(1);
      }
    }),
    { numRuns: RUNS },
  );
});
