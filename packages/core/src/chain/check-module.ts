import { cut } from '../signal/memory.ts';
import { Random } from '../signal/random.ts';
import { type Block, copyBlock, emptyBlock, framesOf, type SignalFormat } from '../signal/signal.ts';
import { ModuleError } from '../steps/custom/module-error.ts';
import type { ModuleFile } from '../steps/custom/module-file.ts';
import { moduleStep } from '../steps/custom/module-step.ts';
import type { ProcessingModule } from '../steps/custom/registry.ts';
import type { AnyStep, Findings } from '../steps/step.ts';

/** One promise of the step contract, and how a module keeps it. */
export interface ModuleCheck {
  promise: string;
  /** What fails, in words; null where it holds. */
  fails: string | null;
}

type Values = Record<string, unknown>;

interface Trial {
  sha256: string;
  step: AnyStep;
  manifest: ModuleFile['manifest'];
}

const RATES = [8000, 22050, 44100, 48000, 96000, 192000];
const LOUDEST = 1e4;
/** By how much a module's own filters may move the middle of a sound. */
const NEAR_FRAMES = 1.5;

const PROMISES: readonly [promise: string, holds: (trial: Trial) => string | null][] = [
  ['starts at every rate and with every number of channels it states', startsEverywhere],
  ['keeps silence silent', keepsSilence],
  ['gives the same samples however blocks are cut', blocksDoNotMatter],
  ['gives the same samples each time', sameEachTime],
  ['states its real latency', statesLatency],
  ['lets no bad sample out, whatever comes in and however it is set', noBadSamples],
  ['takes other settings while it runs', takesSettings],
];

/**
 * Runs the step contract over a module. It may never come back: call it where a watch looks.
 * @param told after each promise
 */
export function checkModule(
  { manifest, compiled }: ModuleFile,
  sha256: string,
  told: (check: ModuleCheck) => void = () => {},
): ModuleCheck[] {
  const module: ProcessingModule = { sha256, manifest, compiled };
  const trial: Trial = { sha256, step: moduleStep(module), manifest };
  return PROMISES.map(([promise, holds]) => {
    const check = { promise, fails: inWords(() => holds(trial)) };
    told(check);
    return check;
  });
}

function inWords(holds: () => string | null): string | null {
  try {
    return holds();
  } catch (error) {
    if (error instanceof ModuleError) return error.message;
    throw error;
  }
}

const settingsOf = ({ step, sha256, manifest: { name, version } }: Trial, values: Values = {}): Values =>
  step.settings.parse({ module: { sha256, name, version }, ...values }) as Values;

const channelCounts = ({ manifest }: Trial): number[] => {
  const { minimum, maximum } = manifest.channels;
  return [...new Set([minimum, Math.min(2, maximum), maximum])].filter((count) => count >= minimum);
};

function process(
  trial: Trial,
  input: Block,
  sampleRateHz: number,
  { values, size = framesOf(input) }: { values?: Values; size?: number } = {},
): Block {
  const format: SignalFormat = { sampleRateHz, channels: input.length };
  const settings = settingsOf(trial, values);
  const out = copyBlock(input);
  const processor = trial.step.start(settings, format, findingsOf(trial, settings, format, input));
  for (const block of cut(out, Math.max(1, size))) processor.process(block);
  return out;
}

function findingsOf({ step }: Trial, settings: Values, format: SignalFormat, input: Block): Findings {
  const study = step.study?.(settings, format, {});
  if (!study) return {};
  for (const block of cut(copyBlock(input), 1000)) study.hear(block);
  return JSON.parse(JSON.stringify(study.conclude())) as Findings;
}

/** Bursts of noise at speech's level with pauses between: it has something of every frequency, and an envelope. */
function bursts(seconds: number, sampleRateHz: number, channels: number): Block {
  return Array.from({ length: channels }, (_, c) => {
    const random = new Random(3 + c);
    return Float32Array.from({ length: Math.round(seconds * sampleRateHz) }, (_, i) => {
      const at = (i / sampleRateHz) % 0.4;
      return at < 0.25 ? 0.1 * Math.sin((Math.PI * at) / 0.25) * random.normal() : 0;
    });
  });
}

const isSame = (a: Block, b: Block): boolean =>
  a.every((channel, c) => channel.every((x, i) => Object.is(x + 0, b[c][i] + 0)));
const isSound = (block: Block): boolean => block.every((channel) => channel.every((x) => Math.abs(x) < LOUDEST));

function startsEverywhere(trial: Trial): string | null {
  for (const rate of RATES)
    for (const channels of channelCounts(trial)) process(trial, bursts(0.02, rate, channels), rate);
  return null;
}

function keepsSilence(trial: Trial): string | null {
  const [channels] = channelCounts(trial);
  const out = process(trial, emptyBlock(channels, 16000), 16000);
  return out.every((channel) => channel.every((x) => x === 0))
    ? null
    : 'A second of digital silence does not stay silent.';
}

function blocksDoNotMatter(trial: Trial): string | null {
  for (const rate of [8000, 48000, 192000])
    for (const channels of channelCounts(trial)) {
      const input = bursts(12000 / rate, rate, channels);
      const whole = process(trial, input, rate);
      const other = [7, 511, 4096].find((size) => !isSame(process(trial, input, rate, { size }), whole));
      if (other)
        return `With blocks of ${other} frames, ${channels} channels and ${rate} Hz it makes other samples than in one piece.`;
    }
  return null;
}

function sameEachTime(trial: Trial): string | null {
  const input = bursts(1, 16000, channelCounts(trial)[0]);
  return isSame(process(trial, input, 16000), process(trial, input, 16000))
    ? null
    : 'Started anew, it makes other samples of the same sound.';
}

/** The source and what comes of it lie on each other: the top of their cross-correlation is at the stated latency. */
function statesLatency(trial: Trial): string | null {
  for (const rate of [16000, 48000]) {
    const channels = channelCounts(trial)[0];
    const stated = trial.step.start(settingsOf(trial), { sampleRateHz: rate, channels }, {}).latencyFrames;
    const [input] = bursts(1, rate, channels);
    const longer = Array.from({ length: channels }, (_, c) => {
      const channel = new Float32Array(input.length + stated + 64);
      channel.set(bursts(1, rate, channels)[c]);
      return channel;
    });
    const [out] = process(trial, longer, rate);
    const late = lagOf(out, input, stated);
    if (late === undefined) continue;
    if (Math.abs(late - stated) > NEAR_FRAMES) return `At ${rate} Hz it is ${late} frames late and states ${stated}.`;
  }
  return null;
}

const LOOK_ROUND_FRAMES = 600;

/** Undefined where nothing of the sound is left, so that nothing can be said. */
function lagOf(later: Float32Array, earlier: Float32Array, near: number): number | undefined {
  let best: number | undefined;
  let top = 0;
  for (let lag = Math.max(0, near - LOOK_ROUND_FRAMES); lag <= near + LOOK_ROUND_FRAMES; lag++) {
    let sum = 0;
    for (let i = 0; i < earlier.length; i++) sum += earlier[i] * (later[i + lag] ?? 0);
    if (Math.abs(sum) > top) [top, best] = [Math.abs(sum), lag];
  }
  return best;
}

function noBadSamples(trial: Trial): string | null {
  const channels = channelCounts(trial)[0];
  const each = (make: (i: number) => number, frames = 8000): Block =>
    Array.from({ length: channels }, () => Float32Array.from({ length: frames }, (_, i) => make(i)));
  const hostile: [string, Block][] = [
    ['speech-like noise', bursts(0.5, 16000, channels)],
    ['a full-scale square wave', each((i) => (i % 40 < 20 ? 1 : -1))],
    ['a constant', each(() => 1)],
    ['denormal samples', each(() => 1e-40)],
    ['a sample at +120 dBFS', each((i) => (i === 3000 ? 1e6 : 0.01))],
    ['one frame', each(() => 0.5, 1)],
  ];
  for (const values of [{}, ...extremes(trial)])
    for (const [what, input] of hostile) {
      const out = process(trial, input, 16000, { values });
      const least = what.includes('120') ? out.every((channel) => channel.every(Number.isFinite)) : isSound(out);
      if (!least) return `It makes bad samples of ${what}${said(values)}.`;
    }
  return null;
}

const said = (values: Values): string => {
  const [[name, value] = []] = Object.entries(values);
  return name ? ` with ${name} at ${value}` : '';
};

/** Each setting at its ends, and each of its words. */
const extremes = ({ manifest }: Trial): Values[] =>
  Object.entries(manifest.settings.properties).flatMap(([name, one]): Values[] => {
    if (one.type === 'boolean') return [{ [name]: !one.default }];
    if (one.type === 'string') return one.enum.map((word) => ({ [name]: word }));
    return [{ [name]: one.minimum }, { [name]: one.maximum }];
  });

/** Set while it runs, it comes to what it makes when it is started so. */
function takesSettings(trial: Trial): string | null {
  const rate = 16000;
  const format: SignalFormat = { sampleRateHz: rate, channels: channelCounts(trial)[0] };
  const input = bursts(2.5, rate, format.channels);
  const findings = findingsOf(trial, settingsOf(trial), format, input);
  for (const values of extremes(trial)) {
    const out = copyBlock(input);
    const processor = trial.step.start(settingsOf(trial), format, findings);
    for (const [i, block] of [...cut(out, 4000)].entries()) {
      if (i === 2) processor.update(settingsOf(trial, values));
      processor.process(block);
    }
    const asStarted = copyBlock(input);
    trial.step.start(settingsOf(trial, values), format, findings).process(asStarted);
    const off = out.some((channel, c) =>
      channel.subarray(2 * rate).some((x, i) => Math.abs(x - asStarted[c][2 * rate + i]) > 0.01),
    );
    if (off) return `Set while it runs, it does not come to what it makes when it is started${said(values)}.`;
  }
  return null;
}
