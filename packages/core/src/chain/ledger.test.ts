import { Meter } from '../measure/meter.ts';
import { cut, MemorySignal } from '../signal/memory.ts';
import { babble, joined, memorySurroundings, mixed, noise, processBlock, sine } from '../testing/index.ts';
import { configureChain } from './chain-file.ts';
import { type Ledger, measureLedger } from './ledger.ts';

const RATE = 24000;
const voice = mixed(babble(12, RATE), noise(0.0008, 12, RATE));
const STEPS = [
  { id: 'nr', kind: 'noise-reduction', settings: {} },
  { id: 'hp', kind: 'high-pass', settings: { frequencyHz: 120 } },
  { id: 'off', kind: 'gain', on: false, settings: { gainDb: 30 } },
  { id: 'eq', kind: 'point-eq', settings: { points: [{ frequencyHz: 2000, gainDb: 4 }] } },
  { id: 'level', kind: 'loudness-normalise', settings: { integratedLufs: -18 } },
  { id: 'lim', kind: 'limiter', settings: { ceilingDbtp: -6 } },
].map((step) => ({ on: true, mix: 1, ...step }));

const sourceOf = (blockFrames = 4096) =>
  new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [...cut([voice], blockFrames)]);

const rounded = ({ rows }: Ledger) =>
  rows.map(({ figures }) => Object.values(figures).map((value) => value && Math.round(value * 1e8)));

/** The same figures by rendering the chain up to a step and measuring the whole result. */
async function measuredAfter(count: number) {
  const { output } = await processBlock(STEPS.slice(0, count), [voice], RATE);
  const meter = new Meter({ sampleRateHz: RATE, channels: 1 });
  meter.hear(output);
  return meter.conclude().figures;
}

it('has after every step the very figures of a render up to that step', async () => {
  const ledger = await measureLedger(configureChain(STEPS), sourceOf(), memorySurroundings);
  expect(ledger.rows.map(({ id }) => id)).toEqual(['nr', 'hp', 'eq', 'level', 'lim']);
  const ends = [1, 2, 4, 5, 6];
  for (const [row, count] of ends.entries()) {
    const figures = await measuredAfter(count);
    for (const [name, value] of Object.entries(ledger.rows[row].figures))
      expect(value).toBeCloseTo(figures[name as keyof typeof figures] as number, 8);
  }
  const { figures: plain } = (() => {
    const meter = new Meter({ sampleRateHz: RATE, channels: 1 });
    meter.hear([voice.slice()]);
    return meter.conclude();
  })();
  // sums of a stretch differ in their last digits by where it was cut
  expect(ledger.source.integratedLufs).toBeCloseTo(plain.integratedLufs!, 10);
  expect(ledger.source.truePeakDbtp).toBe(plain.truePeakDbtp);
});

it('is the same however blocks are cut, and with findings from before', async () => {
  const chain = configureChain(STEPS);
  const one = await measureLedger(chain, sourceOf(), memorySurroundings);
  const given = Object.fromEntries(one.reports.map(({ id, findings }) => [id, findings]));
  const two = await measureLedger(chain, sourceOf(1013), memorySurroundings, given);
  expect(rounded(two)).toEqual(rounded(one));
});

it('is not changed by being asked while it runs', async () => {
  // a steady tone and runs of digital silence: what a reading in the middle would cut shows in the peak and in the floor
  const sound = joined(
    sine(997, 0.5, 3.003, RATE),
    new Float32Array(Math.round(1.507 * RATE)),
    sine(997, 0.5, 3, RATE),
  );
  const source = () => new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [...cut([sound], 1013)]);
  const chain = configureChain([{ id: 'g', kind: 'gain', on: true, mix: 1, settings: { gainDb: -3 } }]);
  const calm = await measureLedger(chain, source(), memorySurroundings);
  const asked = {
    ...memorySurroundings,
    frames: sound.length,
    interimFrames: 1000,
    interim: (known: () => Ledger) => void known(),
  };
  const { source: before, rows } = await measureLedger(chain, source(), asked);
  expect(before).toEqual(calm.source);
  expect(rows).toEqual(calm.rows);
});

it('tells what it knows while it runs', async () => {
  const told: [Ledger, number][] = [];
  await measureLedger(configureChain(STEPS), sourceOf(), {
    ...memorySurroundings,
    frames: voice.length,
    interimFrames: RATE,
    interim: (known, share) => told.push([known(), share]),
  });
  expect(told.length).toBeGreaterThan(20);
  const shares = told.map(([, share]) => share);
  expect(shares).toEqual([...shares].sort((a, b) => a - b));
  expect(told[0][0].rows).toEqual([]); // the first pass only listens to the noise
  expect(told.at(-1)![0].rows).toHaveLength(5);
});

it('follows a change of layout, and is the source alone without steps', async () => {
  const stereo = new MemorySignal({ sampleRateHz: RATE, channels: 2 }, [[voice, voice.map((x) => 0.5 * x)]]);
  const chain = configureChain([{ id: 'm', kind: 'channels', on: true, mix: 1, settings: { mode: 'left-only' } }]);
  const { source, rows } = await measureLedger(chain, stereo, memorySurroundings);
  // one side of half the amplitude: 10 lg 1.25 = 0.97 dB more in the sum
  expect(source.integratedLufs! - rows[0].figures.integratedLufs!).toBeCloseTo(0.97, 2);
  expect((await measureLedger([], stereo, memorySurroundings)).rows).toEqual([]);
});
