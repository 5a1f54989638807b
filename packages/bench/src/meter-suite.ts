import { execFileSync } from 'node:child_process';
import { measureFile } from '@tonos/formats';
import type { Suite } from './suite.ts';

/**
 * Every measure of a file, ours in one thread, against ffmpeg's loudness meter with true peak, which measures less. Answers
 * undefined where Debian's ffmpeg is not installed.
 */
export function meterSuite(path: string, seconds: number): Suite | undefined {
  try {
    execFileSync('ffmpeg', ['-version'], { stdio: 'ignore' });
  } catch {
    return undefined;
  }
  return {
    name: 'meter',
    work: `every measure of a FLAC file of ${seconds} s`,
    ours: { name: 'measureFile', run: async () => void (await measureFile(path)) },
    peer: {
      name: 'ffmpeg ebur128=peak=true',
      run: () =>
        void execFileSync(
          'ffmpeg',
          ['-nostats', '-threads', '1', '-i', path, '-filter_complex', 'ebur128=peak=true', '-f', 'null', '-'],
          { stdio: 'ignore' },
        ),
    },
  };
}
