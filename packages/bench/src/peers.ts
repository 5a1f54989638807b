import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Block } from '@tonos/core';
import { babble, mixed, noise } from '@tonos/core/testing';
import { ByteWriter, writeWav } from '@tonos/formats';
import { chainSuites, longSuites } from './chain-suites.ts';
import { type Comparison, compare } from './compare.ts';
import { meterSuite } from './meter-suite.ts';
import { orderSuite } from './order-suite.ts';
import { report, speedTable, writeInto } from './report.ts';
import { stepSpeeds } from './step-speeds.ts';
import { timeSuites } from './time-suites.ts';

/** A voice said over and over, in a file: what is timed is long, what is made is short. */
async function writeVoice(path: string, voice: Block, bitDepth: 16 | 24, times: number): Promise<void> {
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: RATE, channels: voice.length }, bitDepth });
  for (let i = 0; i < times; i++) await writer.write(voice);
  await writer.finish();
  await bytes.close();
}

/**
 * How fast we are, as a ratio to a peer in the same run. With `--write` the figures go into docs/standards.md; `--long` adds three hours through ten steps, which takes half an hour.
 */
const SECONDS = 60;
const METER_MINUTES = 20;
const RENDER_MINUTES = 10;
const LONG_MINUTES = 180;
const RATE = 48000;
const STEP_SECONDS = 20;
const STANDARDS = join(import.meta.dirname, '../../../docs/standards.md');

const folder = mkdtempSync(join(tmpdir(), 'tonos-bench-'));
try {
  // the command that is timed is the one of this tree
  execFileSync(process.execPath, [join(import.meta.dirname, '../../../node_modules/typescript/bin/tsc'), '-b'], {
    cwd: join(import.meta.dirname, '../../cli'),
  });
  execFileSync(process.execPath, [join(import.meta.dirname, '../../../scripts/bundle-command.mjs')]);
  const stereo = join(folder, 'stereo.wav');
  const voice = mixed(babble(SECONDS, RATE), noise(0.0005, SECONDS, RATE)).map((x) => 0.4 * x);
  await writeVoice(stereo, [voice, voice], 16, METER_MINUTES);
  const headerBytes = statSync(stereo).size - METER_MINUTES * SECONDS * RATE * 4;
  const mono = join(folder, 'mono.wav');
  await writeVoice(mono, [voice], 24, RENDER_MINUTES);
  const meter = meterSuite(stereo, headerBytes, METER_MINUTES * SECONDS, folder);
  const wantsLong = process.argv.includes('--long');
  const long = join(folder, 'long.wav');
  if (wantsLong) await writeVoice(long, [voice], 24, LONG_MINUTES);
  const suites = [
    ...(meter ? [meter] : []),
    ...chainSuites({ path: mono, seconds: RENDER_MINUTES * SECONDS, folder }),
    ...timeSuites({ path: mono, seconds: RENDER_MINUTES * SECONDS, folder }),
    orderSuite({ path: mono, seconds: RENDER_MINUTES * SECONDS, folder }),
    ...(wantsLong ? longSuites({ path: long, seconds: LONG_MINUTES * SECONDS, folder }) : []),
  ];
  if (suites.length < 5)
    console.error('A peer is missing: install a C compiler and Debian\u2019s packages "libebur128-dev" and "ffmpeg".');
  const comparisons: Comparison[] = [];
  for (const suite of suites) {
    comparisons.push(compare(suite));
    console.log(report(comparisons.slice(-1)));
  }
  const speeds = await stepSpeeds([voice.subarray(0, STEP_SECONDS * RATE)], RATE);
  console.log(speedTable(speeds));
  if (process.argv.includes('--write')) writeInto(STANDARDS, comparisons, speeds);
} finally {
  rmSync(folder, { recursive: true });
}
