import { appendFile, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Outings, Recording } from '@tonos/contract';
import { configureChain, cut, knowModule, readModuleFile } from '@tonos/core';
import { noise } from '@tonos/core/testing';
import { allReady, api, type Named } from '@tonos/e2e/api';
import { Tonos } from '@tonos/e2e/tonos';
import { type Figure, figureTable } from './pages/figure.ts';
import { writeVoices } from './write-voices.ts';

/** `npm run bench -- modules`: what a module costs beside a step that ships, and how soon what comes back from outside is laid in. */
const TILT = new URL('../../module-kit/tilt/tilt.wasm', import.meta.url);
const RATE = 48000;
const SECONDS = 300;
const ROUNDS = 5;
const OUTINGS = 100;
const SHA256 = 'b'.repeat(64);

export async function modules(): Promise<void> {
  const figures = [...(await moduleCost()), await laidIn()];
  console.log(figureTable(figures));
}

const middle = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1];

async function moduleCost(): Promise<Figure[]> {
  const bytes = await readFile(TILT);
  const begun = performance.now();
  const file = readModuleFile(bytes, 'tilt.wasm');
  knowModule({ sha256: SHA256, ...file });
  const tilt = { kind: 'custom', on: true, mix: 1, settings: { module: { sha256: SHA256 }, tiltDb: 6 } };
  const [{ definition, settings }] = configureChain([tilt]);
  definition.start(settings, { sampleRateHz: RATE, channels: 1 }, {}).process([new Float32Array(64)]);
  const startMs = performance.now() - begun;
  const bands = [{ shape: 'high-shelf', frequencyHz: 1000, gainDb: 6, q: 0.7 }];
  const shelf = { kind: 'parametric-eq', on: true, mix: 1, settings: { bands } };
  const sound = noise(0.1, SECONDS, RATE);
  const cost = (step: typeof tilt | typeof shelf): number => {
    const [one] = configureChain([step]);
    const processor = one.definition.start(one.settings, { sampleRateHz: RATE, channels: 1 }, {});
    const before = process.cpuUsage().user;
    for (const block of cut([sound.slice()], 4096)) processor.process(block);
    return (process.cpuUsage().user - before) / 1000;
  };
  cost(tilt);
  cost(shelf);
  // turn by turn: a machine that is slow for a while is slow for both
  const pairs = Array.from({ length: ROUNDS }, () => ({ own: cost(tilt), built: cost(shelf) }));
  const [own, built] = [middle(pairs.map((one) => one.own)), middle(pairs.map((one) => one.built))];
  return [
    {
      what: `a module (tilt) over a step that ships (one shelf), ${SECONDS} s of mono`,
      wanted: 'at most 1.5 x',
      found: `${(own / built).toFixed(2)} x (${own.toFixed(0)} ms, ${built.toFixed(0)} ms)`,
    },
    { what: 'reading, compiling and starting it', wanted: 'under 20 ms', found: `${startMs.toFixed(1)} ms` },
  ];
}

/** Half of the files come at once, half in three pieces. */
async function laidIn(): Promise<Figure> {
  const tonos = await Tonos.start({ demo: false, inbox: true });
  try {
    const call = api(tonos);
    const files = await writeVoices(join(tonos.folder, 'inbox', 'Out'), { count: OUTINGS, seconds: 5 });
    const title = await call<Named>('POST', '/titles', { name: 'Out', kind: 'podcast' });
    await call('POST', `/titles/${title.id}/recordings/from-folder`, { path: 'Out', files });
    const recordings = await allReady<Recording>(call, title.id);
    await call('POST', '/outside', { recordingIds: recordings.map(({ id }) => id) });
    const exchange = join(tonos.folder, 'data/exchange');
    const written = async () => (await readdir(join(exchange, 'out'))).filter((name) => /^[^.].*\.wav$/.test(name));
    while ((await written()).length < OUTINGS) await wait(200);
    const late: number[] = [];
    for (const [i, name] of (await written()).entries()) {
      const bytes = await readFile(join(exchange, 'out', name));
      // other sound than went out: its last sample
      bytes.writeFloatLE(0.001 * (i + 1), bytes.length - 4);
      const pieces = i % 2 ? 3 : 1;
      const size = Math.ceil(bytes.length / pieces);
      await writeFile(join(exchange, 'back', name), bytes.subarray(0, size));
      for (let piece = 1; piece < pieces; piece++) {
        await wait(700);
        await appendFile(join(exchange, 'back', name), bytes.subarray(piece * size, (piece + 1) * size));
      }
      const ended = performance.now();
      const isBack = async () =>
        (await call<Outings>('GET', '/outside')).outings.some((one) => one.fileName === name && one.laidIn);
      while (!(await isBack())) await wait(50);
      late.push((performance.now() - ended) / 1000);
    }
    return {
      what: `${OUTINGS} recordings of 5 s out and back, half of them written in pieces: from the last byte until it is laid in`,
      wanted: 'under 2 s',
      found: `${middle(late).toFixed(2)} s, at most ${Math.max(...late).toFixed(2)} s`,
    };
  } finally {
    await tonos.remove();
  }
}
