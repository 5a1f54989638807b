import { setTimeout as wait } from 'node:timers/promises';

const FULL = ['ENOSPC', 'EDQUOT', 'SQLITE_FULL'];
const READ_ONLY = ['EROFS', 'SQLITE_READONLY', 'SQLITE_READONLY_DIRECTORY', 'SQLITE_READONLY_DBMOVED'];
const TRY_AGAIN_MS = 2000;
const MOST_WAIT_MS = 60_000;

const isOne = (codes: readonly string[], error: unknown): boolean =>
  error instanceof Error && (codes.includes((error as NodeJS.ErrnoException).code ?? '') || isOne(codes, error.cause));

/** Whether something failed for want of room: on a disk, in a quota, in the database. */
export const isDiskFull = (error: unknown): boolean => isOne(FULL, error);

/** What becomes of work that met a disk which takes nothing; undefined where it failed for another reason. */
export function diskTrouble(error: unknown): { code: 'disk-full' | 'disk-read-only'; message: string } | undefined {
  if (isDiskFull(error))
    return {
      code: 'disk-full',
      message: 'The disk of the data folder is full. Nothing half-written was kept: make room, and try it again.',
    };
  if (isOne(READ_ONLY, error))
    return {
      code: 'disk-read-only',
      message:
        'The disk of the data folder can only be read. Nothing was changed: let Tonos write there again, and try it again.',
    };
  return undefined;
}

/**
 * Resolves when it is worth trying again, or at once where `signal` is aborted.
 * @param failures so far, for what may fail for other reasons than room: each doubles the wait, up to a minute
 */
export const untilWorthTrying = (signal: AbortSignal, failures = 1): Promise<void> =>
  wait(Math.min(MOST_WAIT_MS, TRY_AGAIN_MS * 2 ** (failures - 1)), undefined, { signal }).catch(() => {});

/**
 * A small change that must not be lost: tried again and again until it stands, or `signal` is aborted. A full disk is waited for; of all else
 * `report` is told, and the waits grow.
 */
export async function insist<T>(
  change: () => Promise<T>,
  signal: AbortSignal,
  report: (error: unknown) => void,
): Promise<T> {
  for (let failures = 1; ; failures++) {
    try {
      return await change();
    } catch (error) {
      if (signal.aborted) throw error;
      if (!isDiskFull(error)) report(error);
      await untilWorthTrying(signal, isDiskFull(error) ? 1 : failures);
    }
  }
}
