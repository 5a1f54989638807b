import { setTimeout as wait } from 'node:timers/promises';

const CODES = new Set(['ENOSPC', 'EDQUOT', 'SQLITE_FULL']);
const TRY_AGAIN_MS = 2000;
const MOST_WAIT_MS = 60_000;

/** Whether something failed for want of room: on a disk, in a quota, in the database. */
export const isDiskFull = (error: unknown): boolean =>
  error instanceof Error && (CODES.has((error as NodeJS.ErrnoException).code ?? '') || isDiskFull(error.cause));

/** What becomes of work that met a full disk. */
export const DISK_FULL =
  'The disk of the data folder is full. Nothing half-written was kept: make room, and try it again.';

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
