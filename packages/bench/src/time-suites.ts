import { writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { type Suite, tonos, tonosWatched } from './suite.ts';

const ROUNDS = 3;
/** One in so many seconds: over ten hours that is two thousand. */
const EVERY_SECONDS = 18;
const CUT_SECONDS = 0.4;

interface Place {
  path: string;
  seconds: number;
  folder: string;
}

/** What moves time, against the same work without it. */
export function timeSuites({ path, seconds, folder }: Place): Suite[] {
  const chain = join(folder, 'plain.chain.json');
  writeFileSync(chain, JSON.stringify({ format: 'tonos.chain/1', name: 'Plain', steps: [] }));
  const cuts = Array.from({ length: Math.floor(seconds / EVERY_SECONDS) }, (_, i) => ({
    kind: i % 2 ? 'take-out' : 'room-tone',
    startSeconds: 5 + i * EVERY_SECONDS,
    endSeconds: 5 + CUT_SECONDS + i * EVERY_SECONDS,
  }));
  const cutsPath = join(folder, 'cuts.json');
  writeFileSync(cutsPath, JSON.stringify({ format: 'tonos.cuts/1', recordings: { [basename(path)]: cuts } }));
  const peakFile = join(folder, 'cuts.peak');
  const render = ['render', '--chain', chain, '--out', join(folder, 'cut'), path];
  return [
    {
      name: 'cuts',
      work: `${cuts.length} cuts in ${seconds / 60} min, half of them covered by room tone, WAV to WAV`,
      ours: { name: 'with cuts', commands: [tonosWatched(peakFile, ...render, '--cuts', cutsPath)] },
      peer: { name: 'without', commands: [tonos(...render)] },
      rounds: ROUNDS,
      peakFile,
    },
    {
      name: 'alignment',
      work: `two recorders of ${seconds / 60} min`,
      ours: { name: 'align', commands: [tonos('align', path, path)] },
      peer: { name: 'measure of both', commands: [tonos('measure', path, path)] },
      rounds: ROUNDS,
    },
  ];
}
