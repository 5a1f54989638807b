import { readdirSync } from 'node:fs';
import { configureChain } from '../chain/chain-file.ts';
import { RunningStep } from '../chain/step-runner.ts';
import { cut } from '../signal/memory.ts';
import { type Block, copyBlock, type SignalFormat } from '../signal/signal.ts';
import { babble, mixed, noise, processBlock, sine } from '../testing/index.ts';
import { STEPS, stepOfKind } from './index.ts';
import type { Findings } from './step.ts';

/** What every step promises, whatever it does. */

const RATE = 16000;
/** Made once for all kinds: at 192 kHz and eight channels a voice takes longer to make than to process. */
const voices = new Map<string, Block>();
function voice(seconds: number, channels: number, rate = RATE): Block {
  const key = `${seconds} ${channels} ${rate}`;
  const known = voices.get(key);
  const made =
    known ??
    Array.from({ length: channels }, (_, c) => mixed(babble(seconds, rate, 5 + c), noise(0.001, seconds, rate, 9 + c)));
  voices.set(key, made);
  return made.map((channel) => channel.slice());
}

/** Settings under which a step works hard, where its defaults leave a signal alone. */
const BUSY: Record<string, Record<string, unknown>> = {
  gain: { gainDb: -4.5, invertPolarity: true },
  'low-pass': { frequencyHz: 3000 },
  'parametric-eq': {
    bands: [
      { shape: 'bell', frequencyHz: 900, gainDb: 9, q: 2 },
      { shape: 'notch', frequencyHz: 3000, q: 4 },
    ],
  },
  channels: { mode: 'swap', widthPercent: 40 },
  'point-eq': {
    points: [
      { frequencyHz: 300, gainDb: 8 },
      { frequencyHz: 2000, gainDb: -8 },
    ],
  },
  'tone-match': {
    reference: [
      { frequencyHz: 100, levelDb: -40 },
      { frequencyHz: 6000, levelDb: -40 },
    ],
  },
  declick: { sensitivity: 1 },
  expander: { thresholdDb: -20, ratio: 4 },
  'de-esser': { thresholdDb: -50, rangeDb: 18, frequencyHz: 3000 },
  saturation: { driveDb: 18 },
  compressor: { thresholdDb: -40, ratio: 8 },
  'multiband-compressor': { crossoversHz: [300, 2000], bands: [{ thresholdDb: -40, ratio: 8 }, { ratio: 2 }] },
  limiter: { ceilingDbtp: -12, inputGainDb: 12 },
};

const largestDifference = (a: Block, b: Block): number =>
  a.reduce((worst, channel, c) => channel.reduce((most, x, i) => Math.max(most, Math.abs(x - b[c][i])), worst), 0);

function findingsOf(kind: string, settings: unknown, format: SignalFormat, input: Block): Findings {
  const study = stepOfKind(kind)!.study?.(settings, format, {});
  if (!study) return {};
  for (const block of cut(copyBlock(input), 1000)) study.hear(block);
  return study.conclude();
}

/** The dry signal as a step that turns phases has it. */
function dryOf(kind: string, settings: unknown, input: Float32Array): Float32Array {
  const definition = stepOfKind(kind)!;
  const dry = input.slice();
  const format = { sampleRateHz: RATE, channels: 1 };
  const parsed = definition.settings.parse(settings);
  definition.start(parsed, format, findingsOf(kind, parsed, format, [input])).dryPath?.process([dry]);
  return dry;
}

it('lists every folder of steps', () => {
  const folders = readdirSync(import.meta.dirname, { withFileTypes: true }).filter((entry) => entry.isDirectory());
  expect(folders.map((folder) => folder.name).sort()).toEqual(STEPS.map((step) => step.kind).sort());
});

describe.each(STEPS.map((step) => [step.kind] as const))('%s', (kind) => {
  const settings = BUSY[kind] ?? {};
  const run = (input: Block, blockFrames?: number, rate = RATE, mix = 1) =>
    processBlock([{ kind, settings, mix }], input, rate, blockFrames).then(({ output }) => output);

  it('parses its defaults and describes itself', () => {
    const { settings: schema, describe: say, summary } = stepOfKind(kind)!;
    expect(say(schema.parse({}))).not.toBe('');
    expect(summary).toMatch(/\.$/);
  });

  it('keeps silence silent', async () => {
    const output = await run([new Float32Array(RATE), new Float32Array(RATE)]);
    expect(output.every((channel) => channel.every((x) => x === 0))).toBe(true);
  });

  it('gives the same samples however blocks are cut', async () => {
    const input = voice(3, 2);
    const whole = await run(input, input[0].length);
    for (const size of [7, 511, 4096]) expect(largestDifference(whole, await run(input, size))).toBe(0);
  });

  it('keeps the length, at several rates and channel counts', async () => {
    for (const [rate, channels, frames] of [
      [8000, 1, 12345],
      [44100, 2, 9999],
      [96000, 1, 20001],
      [192000, 8, 5003],
    ]) {
      const input = voice(frames / rate, channels, rate).map((channel) => {
        const sized = new Float32Array(frames);
        sized.set(channel.subarray(0, frames));
        return sized;
      });
      const output = await run(input, 4096, rate);
      expect(output.length).toBe(channels);
      expect(output[0].length).toBe(frames);
    }
  });

  it('states its real latency: an untouched part comes out in place', async () => {
    // mixed half and half with the dry signal, a wrong latency would comb-filter: the level at 1 kHz tells
    const input = [sine(1000, 0.02, 2, RATE)];
    const [wet] = await run(input);
    const [half] = await run(input, 4096, RATE, 0.5);
    const dry = dryOf(kind, settings, input[0]);
    const expected = wet.map((x, i) => 0.5 * x + 0.5 * dry[i]);
    expect(largestDifference([half.slice(4000, 28000)], [expected.slice(4000, 28000)])).toBeLessThan(1e-6);
  });

  it('survives NaN, infinity, denormals, full-scale squares, DC, one frame and none', async () => {
    const hostile = noise(0.1, 1, RATE);
    hostile.set([Number.NaN, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 1e30, 1e-40], 3000);
    const square = Float32Array.from({ length: RATE }, (_, i) => (i % 40 < 20 ? 1 : -1));
    for (const input of [
      hostile,
      square,
      new Float32Array(RATE).fill(1),
      new Float32Array([0.5]),
      new Float32Array(0),
    ]) {
      const [output] = await run([input], 1000);
      expect(output.length).toBe(input.length);
      expect(output.every((x) => Number.isFinite(x) && Math.abs(x) < 1e4)).toBe(true);
    }
  });

  it('changes nothing on an update with equal settings', () => {
    const format = { sampleRateHz: RATE, channels: 1 };
    const input = voice(2, 1);
    const parsed = stepOfKind(kind)!.settings.parse(settings);
    const findings = findingsOf(kind, parsed, format, input);
    const outputs = [false, true].map((updates) => {
      const processor = stepOfKind(kind)!.start(parsed, format, findings);
      const out = copyBlock(input);
      for (const block of cut(out, 800)) {
        processor.process(block);
        if (updates) processor.update(structuredClone(parsed));
      }
      return out;
    });
    expect(largestDifference(outputs[0], outputs[1])).toBe(0);
  });

  it('has findings that survive JSON and then give the same result', async () => {
    const format = { sampleRateHz: RATE, channels: 1 };
    const input = voice(6, 1);
    const [step] = configureChain([{ kind, on: true, mix: 1, settings }]);
    const findings = findingsOf(kind, step.settings, format, input);
    const outputs = [findings, JSON.parse(JSON.stringify(findings)) as Findings].map((found) => {
      const out = copyBlock(input);
      new RunningStep(step, format, found).process(out);
      return out;
    });
    expect(largestDifference(outputs[0], outputs[1])).toBe(0);
  });
});
