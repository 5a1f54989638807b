import { configureChain } from '../chain/chain-file.ts';
import { measureLedger } from '../chain/ledger.ts';
import { Meter } from '../measure/meter.ts';
import { cut, MemorySignal } from '../signal/memory.ts';
import { babble, memorySurroundings, mixed, noise } from '../testing/index.ts';
import { levelAimedFor } from './aim.ts';
import { applyPlan, firstPlan } from './finish.ts';
import { forecast } from './forecast.ts';
import { SHIPPED_TARGETS } from './shipped-targets.ts';

const RATE = 44100;
const target = (name: string) => SHIPPED_TARGETS.find((one) => one.name === name)!;
const figures = {
  integratedLufs: -27,
  maxShortTermLufs: -24,
  loudnessRangeLu: 6,
  truePeakDbtp: -8,
  samplePeakDbfs: -8.5,
  rmsDbfs: -30,
  noiseFloorDbfs: -62,
};

it('moves levels by the gain, caps peaks, and says by how much a limit is missed', () => {
  const { gainDb, limitedDb, figures: after, limits, within } = forecast(target('Audiobook, RMS window'), figures);
  expect(gainDb).toBeCloseTo(10, 9); // to an RMS of -20
  expect(after).toMatchObject({ rmsDbfs: -20, integratedLufs: -17, noiseFloorDbfs: -52, loudnessRangeLu: 6 });
  expect(limitedDb).toBeCloseTo(2 + 3.25, 9); // a quarter of a decibel under the limit: MP3;
  expect(limits.find(({ measure }) => measure === 'noiseFloorDbfs')).toMatchObject({ result: 'over', by: 8 });
  expect(limits.map(({ measure }) => measure)).toEqual(['rmsDbfs', 'samplePeakDbfs', 'noiseFloorDbfs']);
  expect(within).toBe(false);
});

it('foretells what the finish then makes of a voice', async () => {
  const voice = mixed(
    babble(10, RATE).map((x) => 0.3 * x),
    noise(0.0002, 10, RATE),
  );
  const source = new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [...cut([voice], 4096)]);
  const podcast = target('Podcast, mono');
  const { source: heard } = await measureLedger(configureChain([]), source, memorySurroundings);
  const told = forecast(podcast, heard);
  const out = new MemorySignal(source.format);
  await applyPlan(firstPlan(podcast, levelAimedFor(podcast, heard)), source, out);
  const meter = new Meter(source.format);
  meter.hear(out.joined());
  const { figures: made } = meter.conclude();
  expect(told.within).toBe(true);
  for (const measure of ['integratedLufs', 'noiseFloorDbfs', 'rmsDbfs', 'maxShortTermLufs'] as const)
    expect(Math.abs(told.figures[measure]! - made[measure]!)).toBeLessThan(0.3);
});

it('has nothing to say of silence', () => {
  const silent = Object.fromEntries(Object.keys(figures).map((key) => [key, null])) as unknown as typeof figures;
  expect(forecast(target('Podcast, mono'), silent)).toMatchObject({ gainDb: 0, limitedDb: 0, within: false });
});
