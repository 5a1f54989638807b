import { spawnSync } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { babble, joined, mixed, noise, sine } from '@tonos/core/testing';
import { ByteWriter, writeWav } from '@tonos/formats';
import { measureFile } from './measure-file.ts';

/** Against an independent meter on material that no standard's table holds: FFmpeg's ebur128, where Debian's ffmpeg is there. */
const FFMPEG = '/usr/bin/ffmpeg';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-peer-'));
});
afterAll(() => rm(folder, { recursive: true }));

/** Integrated loudness, range and true peak, each printed to a tenth. */
function peerFigures(path: string) {
  const { stderr } = spawnSync(
    FFMPEG,
    ['-nostats', '-nostdin', '-i', path, '-af', 'ebur128=peak=true', '-f', 'null', '-'],
    { encoding: 'utf8' },
  );
  const summary = stderr.slice(stderr.lastIndexOf('Summary:'));
  const figure = (name: string) => Number(new RegExp(`${name}:\\s+(-?[\\d.]+)`).exec(summary)![1]);
  return { integrated: figure('I'), range: figure('LRA'), peak: figure('Peak') };
}

const voice = (seconds: number, rate: number, gain: number, seed: number) =>
  mixed(babble(seconds, rate, seed), noise(0.001, seconds, rate, seed)).map((x) => gain * x);

const MATERIAL: [name: string, rate: number, channels: () => Float32Array[]][] = [
  ['a voice', 44100, () => [voice(30, 44100, 0.4, 1)]],
  [
    'two speakers 14 dB apart',
    48000,
    () => [joined(voice(20, 48000, 0.5, 2), voice(20, 48000, 0.1, 3), voice(20, 48000, 0.5, 4))],
  ],
  ['a voice nearer to the left', 48000, () => [voice(30, 48000, 0.4, 5), voice(30, 48000, 0.15, 5)]],
  [
    'noise, and a tone between the samples',
    48000,
    () => [joined(noise(0.05, 20, 48000), sine(12000, 0.9, 10, 48000, Math.PI / 4))],
  ],
  ['a voice at twice the rate', 96000, () => [voice(20, 96000, 0.3, 6)]],
];

it.each(MATERIAL)('%s: loudness within 0.1 LU, range within 0.5 LU, true peak within 0.2 dB', async (_, rate, made) => {
  const channels = made();
  const path = join(folder, 'material.wav');
  await rm(path, { force: true });
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: rate, channels: channels.length }, bitDepth: 32 });
  await writer.write(channels);
  await writer.finish();
  await bytes.close();
  const { measurement } = await measureFile(path);
  const peer = peerFigures(path);
  // what it prints is rounded to a tenth
  const ROUNDING = 0.05;
  expect(Math.abs(measurement.integratedLufs! - peer.integrated)).toBeLessThan(0.1 + ROUNDING);
  expect(Math.abs(measurement.loudnessRangeLu! - peer.range)).toBeLessThan(0.5 + ROUNDING);
  expect(Math.abs(measurement.truePeakDbtp! - peer.peak)).toBeLessThan(0.2 + ROUNDING);
});
