import { cut, MemorySignal } from '../signal/memory.ts';
import { type Block, framesOf } from '../signal/signal.ts';
import { babble, memorySurroundings, mixed, noise, processBlock, sine } from '../testing/index.ts';
import { configureChain } from './chain-file.ts';
import { LiveChain } from './live-chain.ts';
import { runChain } from './run.ts';

const RATE = 24000;
const FORMAT = { sampleRateHz: RATE, channels: 1 };
const voice = mixed(babble(8, RATE), noise(0.001, 8, RATE));
const STEPS = [
  { id: 'nr', kind: 'noise-reduction', settings: { reductionDb: 12 } },
  { id: 'eq', kind: 'parametric-eq', settings: { bands: [{ frequencyHz: 300, gainDb: -6, q: 1 }] } },
  { id: 'lev', kind: 'leveller', settings: {} },
  { id: 'comp', kind: 'compressor', settings: { thresholdDb: -30 } },
];
const configured = (steps = STEPS) => configureChain(steps.map((step) => ({ on: true, mix: 1, ...step })));

async function findingsOf(steps = STEPS) {
  const source = new MemorySignal(FORMAT, [...cut([voice], 4096)]);
  const reports = await runChain(configured(steps), source, () => new MemorySignal(FORMAT), memorySurroundings);
  return Object.fromEntries(reports.map(({ id, findings }) => [id, findings]));
}

function heard(chain: LiveChain, input: Float32Array, between: (at: number) => void = () => {}): Float32Array {
  const out: number[] = [];
  let at = 0;
  for (const block of cut([input.slice()], 480)) {
    between(at);
    const made: Block = chain.process(block);
    at += framesOf(block);
    out.push(...made[0]);
  }
  return Float32Array.from(out.slice(chain.latencyFrames));
}

const worst = (a: Float32Array, b: Float32Array, from: number, to: number): number => {
  let most = 0;
  for (let i = from; i < to; i++) most = Math.max(most, Math.abs(a[i] - b[i]));
  return most;
};

it('sounds as the render does, from its start', async () => {
  const { output } = await processBlock(STEPS, [voice], RATE);
  const live = heard(new LiveChain(configured(), FORMAT, { findings: await findingsOf() }), voice);
  expect(worst(live, output[0], 0, live.length)).toBeLessThan(1e-6);
});

it('sounds as the render does from the middle, after a short run-in', async () => {
  const { output } = await processBlock(STEPS, [voice], RATE);
  const first = 4 * RATE;
  const findings = await findingsOf();
  const live = heard(new LiveChain(configured(), FORMAT, { findings, firstFrame: first }), voice.subarray(first));
  expect(worst(live, output[0].subarray(first), RATE, live.length)).toBeLessThan(0.003);
});

it('gives what the last step took away: with what it left, it is what went in', async () => {
  const findings = await findingsOf();
  const [left, taken] = [false, true].map((removed) =>
    heard(new LiveChain(configured(), FORMAT, { findings, removed }), voice),
  );
  const { output: before } = await processBlock(STEPS.slice(0, -1), [voice], RATE);
  const together = left.map((x, i) => x + taken[i]);
  expect(worst(together, before[0], 0, together.length)).toBeLessThan(1e-6);
});

it('takes nothing away with a step whose findings are not there yet', () => {
  const [nr] = configured(STEPS.slice(0, 1));
  const chain = new LiveChain([...configured(STEPS.slice(3)), nr], FORMAT, { findings: {}, removed: true });
  expect(heard(chain, voice).every((x) => x === 0)).toBe(true);
});

it('takes new settings and another mix without a click', () => {
  const tone = sine(200, 0.4, 2, RATE);
  const gain = (gainDb: number, mix: number) =>
    configureChain([{ id: 'g', kind: 'gain', on: true, mix, settings: { gainDb } }]);
  const chain = new LiveChain(gain(0, 1), FORMAT, { findings: {} });
  const out = heard(chain, tone, (at) => {
    if (at === 10 * 480) chain.update(gain(-12, 1));
    if (at === 50 * 480) chain.update(gain(-12, 0.2));
  });
  // a tone of 200 Hz moves by 0.4 x 2 pi 200 / 24000 = 0.021 a sample at most
  for (let i = 1; i < out.length; i++) expect(Math.abs(out[i] - out[i - 1])).toBeLessThan(0.024);
  const peak = (from: number, to: number) => out.subarray(from, to).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  expect(peak(30 * 480, 48 * 480)).toBeCloseTo(0.4 * 10 ** (-12 / 20), 3);
  expect(peak(80 * 480, 95 * 480)).toBeCloseTo(0.4 * (0.2 * 10 ** (-12 / 20) + 0.8), 3);
});

it('knows what it can become without starting again', async () => {
  const chain = new LiveChain(configured(), FORMAT, { findings: await findingsOf() });
  expect(chain.canBecome(configured())).toBe(true);
  expect(chain.canBecome(configured(STEPS.slice(1)))).toBe(false);
  expect(chain.canBecome(configured([...STEPS].reverse()))).toBe(false);
});

it('hears samples that are no numbers as silence, and recovers at once', () => {
  const steps = configured(STEPS.slice(1, 2).concat(STEPS.slice(3)));
  const tone = sine(300, 0.3, 1, RATE);
  const hurt = tone.slice();
  for (const [i, x] of [Number.NaN, Number.POSITIVE_INFINITY, -1e30, Number.NEGATIVE_INFINITY].entries())
    hurt[6000 + i] = x;
  const mended = tone.slice();
  mended.fill(0, 6000, 6004);
  const run = (samples: Float32Array) => heard(new LiveChain(steps, FORMAT, { findings: {} }), samples);
  const out = run(hurt);
  expect(out.every(Number.isFinite)).toBe(true);
  expect(worst(out, run(mended), 0, out.length)).toBe(0);
});

it('S9: can\u2019t become what lays out its channels otherwise, and can where only settings differ', () => {
  const chain = (mode: string, more = {}) =>
    configureChain([
      { id: 'c', kind: 'channels', on: true, mix: 1, settings: { mode }, ...more },
      { id: 'k', kind: 'compressor', on: true, mix: 1, settings: {} },
    ]);
  const live = new LiveChain(chain('mix-to-mono'), { sampleRateHz: RATE, channels: 2 }, { findings: {} });
  expect(live.canBecome(chain('left-only'))).toBe(true);
  expect(live.canBecome(chain('swap'))).toBe(false);
  expect(live.canBecome(chain('mix-to-mono', { mix: 0 }))).toBe(false);
});
