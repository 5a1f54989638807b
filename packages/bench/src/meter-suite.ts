import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { type Suite, tonos } from './suite.ts';

const ROUNDS = 3;
const SOURCE = join(import.meta.dirname, '../peer/loudness.c');

/**
 * Every measure of a file, ours in one thread, against libebur128's integrated loudness, range and true peak, which measures
 * less. Answers undefined where a C compiler or Debian's libebur128-dev is missing.
 * @param path a 16-bit stereo WAV file at 48 kHz with a header of `headerBytes`; @param folder where the peer is built
 */
export function meterSuite(path: string, headerBytes: number, seconds: number, folder: string): Suite | undefined {
  const peer = join(folder, 'loudness');
  try {
    execFileSync('cc', ['-O2', '-o', peer, SOURCE, '-lebur128'], { stdio: 'ignore' });
  } catch {
    return undefined;
  }
  return {
    name: 'meter',
    work: `every measure of ${seconds / 60} minutes of stereo at 48 kHz`,
    rounds: ROUNDS,
    ours: { name: 'tonos measure', commands: [tonos('measure', path)] },
    peer: {
      name: 'libebur128 (I, LRA, true peak)',
      commands: [['sh', '-c', 'tail -c +"$1" "$2" | "$3"', 'sh', String(headerBytes + 1), path, peer]],
    },
  };
}
