import { execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { configureChain } from '@tonos/core';
import { measureFile, renderFile } from '@tonos/formats';
import type { Suite } from './suite.ts';

const hasFfmpeg = (): boolean => {
  try {
    execFileSync('ffmpeg', ['-version'], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
};

const step = (kind: string, settings: Record<string, unknown> = {}) => ({ kind, on: true, mix: 1, settings });
const VOICE_CHAIN = [
  step('high-pass', { frequencyHz: 80 }),
  step('parametric-eq', {
    bands: [
      { shape: 'bell', frequencyHz: 240, gainDb: -3, q: 1 },
      { shape: 'bell', frequencyHz: 800, gainDb: -1.5, q: 1.2 },
      { shape: 'bell', frequencyHz: 3500, gainDb: 2, q: 0.9 },
      { shape: 'high-shelf', frequencyHz: 9000, gainDb: 2, q: 0.7 },
    ],
  }),
  step('compressor', { thresholdDb: -24, ratio: 3 }),
  step('de-esser'),
  step('limiter', { ceilingDbtp: -1 }),
];
/** Their nearest filters of ffmpeg. */
const VOICE_GRAPH =
  'highpass=f=80:p=2,highpass=f=80:p=2,equalizer=f=240:t=q:w=1:g=-3,equalizer=f=800:t=q:w=1.2:g=-1.5,equalizer=f=3500:t=q:w=0.9:g=2,treble=f=9000:t=q:w=0.7:g=2,acompressor=threshold=0.063:ratio=3:attack=10:release=120,deesser,alimiter=limit=0.89:level=0';

interface Place {
  path: string;
  seconds: number;
  folder: string;
}

function renders({ path, folder }: Place, steps: ReturnType<typeof step>[], graph: string, meters: boolean) {
  const outputPath = join(folder, 'ours.wav');
  const theirs = join(folder, 'theirs.wav');
  const ffmpeg = (...args: string[]) =>
    execFileSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', '-threads', '1', '-filter_threads', '1', ...args], {
      stdio: 'ignore',
    });
  const ebur128 = (file: string) => ffmpeg('-i', file, '-af', 'ebur128=peak=true', '-f', 'null', '-');
  return {
    ours: async () => {
      rmSync(outputPath, { force: true });
      if (meters) await measureFile(path);
      await renderFile({
        sourcePath: path,
        name: 'voice',
        chain: configureChain(steps),
        target: undefined,
        outputPath,
        spoolFolder: folder,
      });
    },
    peer: () => {
      if (meters) ebur128(path);
      ffmpeg('-i', path, '-af', graph, '-c:a', 'pcm_s24le', theirs);
      ebur128(theirs);
    },
  };
}

/** Whole renders, WAV to WAV in one thread, against ffmpeg's nearest graph; both measure what they wrote. */
export function chainSuites(place: Place): Suite[] {
  if (!hasFfmpeg()) return [];
  const voice = renders(place, VOICE_CHAIN, VOICE_GRAPH, true);
  const denoise = renders(place, [step('noise-reduction')], 'afftdn=nr=12', false);
  const work = `${place.seconds} s of mono at 48 kHz, WAV to WAV`;
  return [
    {
      name: 'voice chain',
      work: `high-pass, four bands, compressor, de-esser, limiter, measured before and after, ${work}`,
      ours: { name: 'renderFile', run: voice.ours },
      peer: { name: 'ffmpeg with two ebur128=peak=true passes', run: voice.peer },
    },
    {
      name: 'noise reduction',
      work: `learned and applied, measured after, ${work}`,
      ours: { name: 'renderFile', run: denoise.ours },
      peer: { name: 'ffmpeg afftdn and one ebur128 pass', run: denoise.peer },
    },
  ];
}
