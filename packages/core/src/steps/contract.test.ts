import { readdirSync } from 'node:fs';
import { configureChain } from '../chain/chain-file.ts';
import { chainMap } from '../chain/run.ts';
import { RunningStep } from '../chain/step-runner.ts';
import { cut } from '../signal/memory.ts';
import { type Block, copyBlock, type SignalFormat } from '../signal/signal.ts';
import { babble, mixed, noise, processBlock } from '../testing/index.ts';
import { toResult } from '../time/time-map.ts';
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
  'trim-ends': { headSeconds: 1.5, tailSeconds: 0.2 },
  'shorten-pauses': { longestSeconds: 0.2, keepPercent: 10 },
  pace: { tempoPercent: 90, pitchSemitones: 2 },
  fade: { inSeconds: 0.7, outSeconds: 0.9 },
  reverb: { wetDb: -6, decaySeconds: 0.4 },
};

const largestDifference = (a: Block, b: Block): number =>
  a.reduce((worst, channel, c) => channel.reduce((most, x, i) => Math.max(most, Math.abs(x - b[c][i])), worst), 0);

function findingsOf(kind: string, settings: unknown, format: SignalFormat, input: Block): Findings {
  const study = stepOfKind(kind)!.study?.(settings, format, {});
  if (!study) return {};
  for (const block of cut(copyBlock(input), 1000)) study.hear(block);
  return study.conclude();
}

/** Settings under which a step leaves most of a sound as it is: its delay shows undisguised. */
const GENTLE: Record<string, Record<string, unknown>> = {
  'low-pass': { frequencyHz: 20000 },
  'high-pass': { frequencyHz: 20 },
  channels: { mode: 'swap' },
};

/** By how many frames, in fractions, a signal lags another: the top of their cross-correlation. */
function lagOf(later: Float32Array, earlier: Float32Array, most: number): number {
  const at = (lag: number) => {
    let sum = 0;
    for (let i = most; i < earlier.length - most; i++) sum += earlier[i] * (later[i + lag] ?? 0);
    return sum;
  };
  let best = 0;
  let top = Number.NEGATIVE_INFINITY;
  for (let lag = -4; lag <= most; lag++) {
    const value = at(lag);
    if (value > top) [top, best] = [value, lag];
  }
  const [before, after] = [at(best - 1), at(best + 1)];
  return best + (before - after) / (2 * (before - 2 * top + after));
}

it('lists every folder of steps', () => {
  const folders = readdirSync(import.meta.dirname, { withFileTypes: true }).filter((entry) => entry.isDirectory());
  expect(folders.map((folder) => folder.name).sort()).toEqual(STEPS.map((step) => step.kind).sort());
});

it.each(STEPS)('S24: the traits of $kind are settings of its own, and say what it does at its defaults', (step) => {
  const { traits = {} } = step;
  const defaults = step.settings.parse({}) as Record<string, unknown>;
  const { cutsBelow, closesUnder, holdsPeaksUnder, reducesNoiseBy, compresses } = traits;
  const keys = [cutsBelow, closesUnder, holdsPeaksUnder, reducesNoiseBy, compresses?.over, compresses?.ratio];
  for (const key of keys) if (key !== undefined) expect(typeof defaults[key]).toBe('number');
  for (const much of [traits.raisesDb?.(defaults), traits.boostsDb?.(defaults)])
    if (much !== undefined) expect(much).toBeGreaterThanOrEqual(0);
  // what runs unstudied would otherwise be studied
  if (traits.unstudied) expect(step.study).toBeDefined();
});

it('S5: a stated delay that is not there is found out', () => {
  const [input] = voice(1, 1);
  expect(lagOf(input, input, 100)).toBeCloseTo(0, 3);
  expect(lagOf(Float32Array.from([0, 0, 0, ...input]), input, 100)).toBeCloseTo(3, 3);
});

describe.each(STEPS.map((step) => [step.kind] as const))('%s', (kind) => {
  const settings = BUSY[kind] ?? {};
  const run = (input: Block, blockFrames?: number, rate = RATE) =>
    processBlock([{ kind, settings }], input, rate, blockFrames).then(({ output }) => output);

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

  it('keeps the length, or says where its moments went, at several rates and channel counts', async () => {
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
      const { output, reports } = await processBlock([{ kind, settings }], input, rate);
      expect(output.length).toBe(channels);
      expect(output[0].length).toBe(Math.round(chainMap(reports, frames / rate).at(-1)![1] * rate));
      if (stepOfKind(kind)!.group !== 'time') expect(output[0].length).toBe(frames);
    }
  });

  it.each([16000, 22050, 44100, 48000])('S5: states its real latency, to half a sample, at %d Hz', (rate) => {
    const input = voice(1.5, 2, rate);
    const format = { sampleRateHz: rate, channels: 2 };
    const parsed = stepOfKind(kind)!.settings.parse(GENTLE[kind] ?? {});
    const processor = stepOfKind(kind)!.start(parsed, format, findingsOf(kind, parsed, format, input));
    const out = input.map((channel) => {
      const longer = new Float32Array(channel.length + processor.latencyFrames);
      longer.set(channel);
      return longer;
    });
    processor.process(out);
    const [first] = processor.layOut?.(out) ?? out;
    // only some lags round the stated one are tried: a long latency would take minutes
    const shifted = first.subarray(Math.max(0, processor.latencyFrames - 50));
    const lag = lagOf(shifted, input[kind === 'channels' ? 1 : 0], 100);
    expect(Math.abs(lag + Math.max(0, processor.latencyFrames - 50) - processor.latencyFrames)).toBeLessThan(0.5);
  });

  it('S10: is not there to the bit when it is mixed away or its scope names no mark', async () => {
    for (const channels of [1, 2, 6]) {
      const input = voice(1, channels);
      const nowhere = { marks: ['Nobody'], crossfadeMs: 20 };
      for (const sketch of [{ mix: 0 }, { scope: nowhere }]) {
        const { output } = await processBlock([{ kind, settings, ...sketch }], input, RATE, 999);
        expect(output.length).toBe(channels);
        expect(largestDifference(output, input)).toBe(0);
      }
    }
  });

  it('S10: changes nothing a hundredth of a second outside its marks', async () => {
    const input = voice(3, 2);
    const known = { marks: [{ name: 'Here', startSeconds: 1, endSeconds: 1.5 }] };
    const scope = { marks: ['Here'], crossfadeMs: 20 };
    const same = kind === 'channels' ? { mode: 'swap' } : settings;
    const { output, reports } = await processBlock([{ kind, settings: same, scope }], input, RATE, 1024, known);
    const outside = (block: Block, from: number, to: number) => block.map((channel) => channel.subarray(from, to));
    const map = chainMap(reports, 3);
    // a tail behind the end is none of it
    const later = (frame: number) => Math.round(toResult(map, frame / RATE, 'before') * RATE);
    for (const [from, to] of [
      [0, 0.99 * RATE - 1],
      [1.51 * RATE + 1, 3 * RATE],
    ])
      expect(largestDifference(outside(output, later(from), later(to)), outside(input, from, to))).toBe(0);
  });

  it('S6: tells the same traces however blocks are cut', async () => {
    const input = voice(3, 1);
    const deepest = async (size: number) =>
      (await processBlock([{ kind, settings }], input, RATE, size)).reports[0].deepest;
    const [whole, small] = [await deepest(input[0].length), await deepest(100)];
    expect(Object.keys(whole)).toEqual(Object.keys(stepOfKind(kind)!.traces ?? {}));
    for (const [name, value] of Object.entries(whole)) expect(small[name]).toBeCloseTo(value, 6);
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
      const {
        output: [output],
        reports,
      } = await processBlock([{ kind, settings }], [input], RATE, 1000);
      expect(output.length).toBe(Math.round(chainMap(reports, input.length / RATE).at(-1)![1] * RATE));
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
