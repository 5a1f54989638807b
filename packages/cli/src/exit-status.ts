import { type FileError, isFailure } from './each-file.ts';

export const EXIT = { within: 0, offTarget: 1, usage: 2, unprocessed: 3 } as const;

/** A file that could not be read or processed weighs more than one off target. */
export function exitStatus(results: readonly (FileError | { file: string; verdict?: string | null })[]): number {
  if (results.some(isFailure)) return EXIT.unprocessed;
  return results.some((result) => !isFailure(result) && result.verdict === 'off-target') ? EXIT.offTarget : EXIT.within;
}
