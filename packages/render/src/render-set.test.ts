import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { configureChain, NO_CHOICE, SHIPPED_TARGETS, type TargetFile, timeCuts, toResult } from '@tonos/core';
import { babble, mixed, noise } from '@tonos/core/testing';
import { ByteWriter, openAudio, writeWav } from '@tonos/formats';
import { alignFiles } from './align-files.ts';
import { renderSet } from './render-set.ts';

const RATE = 16_000;
let folder: string;
let paths: string[];
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-set-'));
  await mkdir(join(folder, 'out'));
  paths = [await saved('host.wav', host), await saved('guest.wav', guest)];
});
afterAll(() => rm(folder, { recursive: true }));

async function saved(name: string, samples: Float32Array): Promise<string> {
  const path = join(folder, name);
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: RATE, channels: 1 }, bitDepth: 32 });
  await writer.write([samples]);
  await writer.finish();
  await bytes.close();
  return path;
}

async function samplesOf(path: string): Promise<Float32Array> {
  const audio = await openAudio(path);
  const parts: Float32Array[] = [];
  for await (const [channel] of audio.blocks()) parts.push(channel.slice());
  await audio.close();
  const joined = new Float32Array(parts.reduce((sum, { length }) => sum + length, 0));
  parts.reduce((at, part) => {
    joined.set(part, at);
    return at + part.length;
  }, 0);
  return joined;
}

/** A recorder that began later, by a clock that is off: straight lines between samples suffice for what is asked here. */
const recorder = (samples: Float32Array, offsetSeconds: number, driftPpm: number, seconds: number) =>
  Float32Array.from({ length: Math.round(seconds * RATE) }, (_, n) => {
    const at = offsetSeconds * RATE + n / (1 + driftPpm * 1e-6);
    const whole = Math.floor(at);
    const [a = 0, b = 0] = [samples[whole], samples[whole + 1]];
    return a + (at - whole) * (b - a);
  });

/** By how many samples b is late against a, from a cross-correlation around a place. */
function lagAt(a: Float32Array, b: Float32Array, seconds: number): number {
  const from = Math.round(seconds * RATE);
  let [best, most] = [0, Number.NEGATIVE_INFINITY];
  for (let lag = -200; lag <= 200; lag++) {
    let sum = 0;
    for (let i = from; i < from + 2 * RATE; i++) sum += a[i] * (b[i + lag] ?? 0);
    if (sum > most) [best, most] = [lag, sum];
  }
  return best;
}

const SECONDS = 100;
const voice = babble(SECONDS, RATE);
const host = mixed(voice, noise(0.0004, SECONDS, RATE, 1));
const guest = mixed(
  recorder(voice, 2.5, 60, 90).map((x) => 0.2 * x),
  noise(0.0004, 90, RATE, 2),
);

async function jobsOf(steps: object[], cuts: unknown[][], target?: TargetFile) {
  const places = await alignFiles(paths.map((path) => ({ path, name: path })));
  const name = `${Math.random()}`;
  return paths.map((sourcePath, i) => {
    const place = places[i];
    if (place.status === 'rejected') throw place.reason;
    return {
      sourcePath,
      name: sourcePath,
      chain: configureChain(steps.map((step) => ({ on: true, mix: 1, settings: {}, ...(step as { kind: string }) }))),
      target,
      outputPath: join(folder, 'out', `${name}-${i}.wav`),
      spoolFolder: folder,
      byHand: { boxes: [], roomTone: NO_CHOICE, marks: [], cuts: timeCuts.parse(cuts[i] ?? []) },
      place: place.value,
    };
  });
}

async function renderedOf(jobs: Awaited<ReturnType<typeof jobsOf>>) {
  const results = await renderSet(jobs);
  return Promise.all(
    results.map(async (result, i) => {
      if (result.status === 'rejected') throw result.reason;
      return { ...result.value, samples: await samplesOf(jobs[i].outputPath) };
    }),
  );
}

it('begins together, is of one length to the sample, and stays in step for as long as it lasts', async () => {
  const [a, b] = await renderedOf(await jobsOf([], []));
  expect(a.samples.length).toBe(SECONDS * RATE);
  expect(b.samples.length).toBe(a.samples.length);
  for (const at of [4, 45, 85]) expect(Math.abs(lagAt(a.samples, b.samples, at))).toBeLessThanOrEqual(1);
  expect(toResult(b.timeMap, 0)).toBeCloseTo(2.5, 3);
  // what the guest has no sound for is its room
  const before = b.samples.subarray(0, 2 * RATE);
  expect(20 * Math.log10(Math.sqrt(before.reduce((sum, x) => sum + x * x, 0) / before.length))).toBeCloseTo(-68, -1);
});

it('cuts of any member hold for all; what only covers a sound, where it was made', async () => {
  const cuts = [
    [{ kind: 'take-out', startSeconds: 10, endSeconds: 12.5 }],
    [
      { kind: 'pause', atSeconds: 40, lengthSeconds: 1 },
      { kind: 'room-tone', startSeconds: 60, endSeconds: 61 },
    ],
  ];
  const [a, b] = await renderedOf(await jobsOf([], cuts));
  expect(a.samples.length).toBe((SECONDS - 2.5 + 1) * RATE);
  expect(b.samples.length).toBe(a.samples.length);
  for (const at of [4, 20, 70]) expect(Math.abs(lagAt(a.samples, b.samples, at))).toBeLessThanOrEqual(1);
});

it('shortens the pauses that all have, and ends where all end, in the target\u2019s finish too', async () => {
  const target = SHIPPED_TARGETS.find(({ limits }) => limits.some(({ measure }) => measure === 'headSilenceSeconds'))!;
  const steps = [
    { kind: 'shorten-pauses', settings: { longestSeconds: 0.4 } },
    { kind: 'trim-ends', settings: { headSeconds: 1, tailSeconds: 2 } },
    { kind: 'gain', settings: { gainDb: 3 } },
  ];
  const wav: TargetFile = {
    ...target,
    output: { ...target.output, container: 'wav', bitDepth: 24, sampleRateHz: RATE },
  };
  const [a, b] = await renderedOf(await jobsOf(steps, [], wav));
  expect(a.samples.length).toBeLessThan((SECONDS - 10) * RATE);
  expect(b.samples.length).toBe(a.samples.length);
  for (const at of [4, 30, 60]) expect(Math.abs(lagAt(a.samples, b.samples, at))).toBeLessThanOrEqual(1);
});

it('goes on without a member that fails', async () => {
  const jobs = await jobsOf([{ kind: 'shorten-pauses', settings: { longestSeconds: 0.4 } }], []);
  await writeFile(join(folder, 'broken.wav'), 'no sound');
  const results = await renderSet([jobs[0], { ...jobs[1], sourcePath: join(folder, 'broken.wav') }]);
  expect(results.map(({ status }) => status)).toEqual(['fulfilled', 'rejected']);
});
