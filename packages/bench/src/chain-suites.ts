import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Command } from './cpu.ts';
import { type Suite, tonos, tonosWatched } from './suite.ts';

const ROUNDS = 3;

const hasFfmpeg = (): boolean => {
  try {
    execFileSync('ffmpeg', ['-version'], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
};

const step = (kind: string, settings: Record<string, unknown> = {}) => ({ id: kind, kind, settings });
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

const LONG_CHAIN = [
  step('dc-removal'),
  step('high-pass', { frequencyHz: 80 }),
  step('hum-removal', { mainsHz: 50 }),
  step('noise-reduction'),
  step('plosive-removal'),
  ...VOICE_CHAIN.slice(1, 4),
  step('leveller'),
  step('limiter'),
];
const HUM_GRAPH = Array.from({ length: 12 }, (_, i) => `bandreject=f=${50 * (i + 1)}:t=h:w=2`).join(',');
const LONG_GRAPH = `highpass=f=5:p=1,highpass=f=80:p=2,highpass=f=80:p=2,${HUM_GRAPH},afftdn=nr=12,highpass=f=60:p=2,${VOICE_GRAPH.split(',').slice(2, -1).join(',')},dynaudnorm,alimiter=limit=0.89:level=0`;

interface Place {
  path: string;
  seconds: number;
  folder: string;
}

const ffmpeg = (...args: string[]): Command => [
  'ffmpeg',
  ...['-v', 'error', '-nostdin', '-y', '-threads', '1', '-filter_threads', '1'],
  ...args,
];
const ebur128 = (file: string) => ffmpeg('-i', file, '-af', 'ebur128=peak=true', '-f', 'null', '-');

/** A whole render in one thread, measured before and after. */
function render(name: string, work: string, { path, folder, seconds }: Place, steps: object[], graph: string): Suite {
  const chain = join(folder, `${name}.json`);
  writeFileSync(chain, JSON.stringify({ format: 'tonos.chain/1', name, steps }));
  const theirs = join(folder, 'theirs.wav');
  return {
    name,
    rounds: ROUNDS,
    work: `${work}, measured before and after, ${seconds / 60} minutes of mono at 48 kHz, WAV to WAV`,
    ours: {
      name: 'tonos render',
      commands: [tonos('render', path, '--chain', chain, '--out', join(folder, 'ours'))],
    },
    peer: {
      name: 'ffmpeg with two ebur128=peak=true passes',
      commands: [ebur128(path), ffmpeg('-i', path, '-af', graph, '-c:a', 'pcm_s24le', theirs), ebur128(theirs)],
    },
  };
}

/** Whole renders against ffmpeg's nearest graph. */
export function chainSuites(place: Place): Suite[] {
  if (!hasFfmpeg()) return [];
  return [
    render('voice chain', 'high-pass, four bands, compressor, de-esser, limiter', place, VOICE_CHAIN, VOICE_GRAPH),
    render('noise reduction', 'learned and applied', place, [step('noise-reduction')], 'afftdn=nr=12'),
  ];
}

/** A long file through ten steps to a delivery, where memory counts as much as time. */
export function longSuites({ path, seconds, folder }: Place): Suite[] {
  if (!hasFfmpeg()) return [];
  const chain = join(folder, 'long.json');
  writeFileSync(chain, JSON.stringify({ format: 'tonos.chain/1', name: 'long', steps: LONG_CHAIN }));
  const peakFile = join(folder, 'peak');
  const out = ['--chain', chain, '--target', 'Podcast, mono', '--out', join(folder, 'ours')];
  const theirs = join(folder, 'theirs.mp3');
  const encode = ['-af', `${LONG_GRAPH},aresample=44100`, '-c:a', 'libmp3lame', '-b:a', '64k', theirs];
  return [
    {
      name: 'ten steps to MP3',
      rounds: 1,
      work: `${seconds / 3600} hours of mono at 48 kHz, landed on the target "Podcast, mono", measured before and after`,
      ours: { name: 'tonos render', commands: [tonosWatched(peakFile, 'render', path, ...out)] },
      peer: {
        name: 'ffmpeg with libmp3lame and two ebur128=peak=true passes',
        commands: [ebur128(path), ffmpeg('-i', path, ...encode), ebur128(theirs)],
      },
      peakFile,
    },
  ];
}
