import { spawnSync } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { configureChain, SHIPPED_TARGETS, type TargetFile } from '@tonos/core';
import { renderFile } from './render-file.ts';

/**
 * Every target that ships, on recordings of the demo: what we call within is within as FFmpeg decodes and measures the
 * delivered file, and what can be met is met.
 */
const FFMPEG = '/usr/bin/ffmpeg';
const DEMO = join(import.meta.dirname, '../../../demo/recordings');
/** Clean, in stereo, in a noisy place, far too quiet, cut at full scale. */
const RECORDINGS = [
  'The Salt Road Almanac/01 The salt road.flac',
  'Night Shift at the Observatory/2 The guest.flac',
  'Night Shift at the Observatory/3 On the roof.flac',
  'The Salt Road Almanac/04 Two lanterns.flac',
  'The Salt Road Almanac/05 What the tide keeps.flac',
];
const CHAIN = configureChain([
  { kind: 'high-pass', on: true, mix: 1, settings: {} },
  { kind: 'compressor', on: true, mix: 1, settings: {} },
]);
const NAME_OF_FILE = /[^\w.]/g;

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-shipped-'));
});
afterAll(() => rm(folder, { recursive: true }));

function ffmpeg(path: string, filter: string): string {
  const args = ['-nostats', '-nostdin', '-i', path, '-af', filter, '-f', 'null', '-'];
  return spawnSync(FFMPEG, args, { encoding: 'utf8', maxBuffer: 1e8 }).stderr;
}

/** Figures by FFmpeg's ebur128 (printed to a tenth) and astats; keys as ours. */
function peerFigures(path: string): Record<string, number> {
  // both in one pass; the loudness meter comes last, since it brings the signal to its own rate
  const told = ffmpeg(path, 'astats=measure_perchannel=none,ebur128=peak=true');
  const summary = told.slice(told.lastIndexOf('Summary:'));
  const figure = (text: string, name: string) => Number(new RegExp(`${name}:\\s+(-?[\\d.]+)`).exec(text)![1]);
  return {
    integratedLufs: figure(summary, 'I'),
    loudnessRangeLu: figure(summary, 'LRA'),
    truePeakDbtp: figure(summary, 'Peak'),
    maxShortTermLufs: Math.max(...[...told.matchAll(/ S:\s*(-?[\d.]+)/g)].map(([, value]) => Number(value))),
    samplePeakDbfs: figure(told, 'Peak level dB'),
    rmsDbfs: figure(told, 'RMS level dB'),
  };
}

/** FFmpeg prints a tenth. */
const PRINTED_WITHIN = 0.05;

async function deliver(target: TargetFile, file: string) {
  const outputPath = join(folder, `${target.name} ${file}`.replace(NAME_OF_FILE, '-'));
  const sourcePath = join(DEMO, file);
  const result = await renderFile({ sourcePath, name: file, chain: CHAIN, target, outputPath, spoolFolder: folder });
  const peer = peerFigures(outputPath);
  await rm(outputPath);
  return { ...result, peer };
}

/** Three of them a target, each in its turn. */
const recordingsOf = (index: number) => RECORDINGS.filter((_, i) => (i + index) % RECORDINGS.length < 3);

describe.each(SHIPPED_TARGETS.map((target, i) => [target.name, target, i] as const))('%s', (_, target, index) => {
  it('is met on the demo, as an independent meter reads it', async () => {
    for (const file of recordingsOf(index)) {
      const { limits, peer } = await deliver(target, file);
      for (const { measure, min, max, result, required } of limits) {
        // a room that is too loud for the quietest targets: no gain mends that
        if (required && measure !== 'noiseFloorDbfs')
          expect([file, measure, result]).toEqual([file, measure, 'within']);
        if (result !== 'within' || peer[measure] === undefined) continue;
        if (max !== null) expect(peer[measure]).toBeLessThanOrEqual(max + PRINTED_WITHIN);
        if (min !== null) expect(peer[measure]).toBeGreaterThanOrEqual(min - PRINTED_WITHIN);
      }
    }
  });
});
