import { setTimeout as wait } from 'node:timers/promises';

const CODES = new Set(['ENOSPC', 'EDQUOT', 'SQLITE_FULL']);
const TRY_AGAIN_MS = 2000;

/** Whether something failed for want of room: on a disk, in a quota, in the database. */
export const isDiskFull = (error: unknown): boolean =>
  error instanceof Error && (CODES.has((error as NodeJS.ErrnoException).code ?? '') || isDiskFull(error.cause));

/** What becomes of work that met a full disk. */
export const DISK_FULL =
  'The disk of the data folder is full. Nothing half-written was kept: make room, and try it again.';

/** Resolves when it is worth trying again, or at once where `signal` is aborted. */
export const untilThereMayBeRoom = (signal: AbortSignal): Promise<void> =>
  wait(TRY_AGAIN_MS, undefined, { signal }).catch(() => {});

/** A small change that must not be lost: tried again and again while the disk is full, until `signal` is aborted. */
export async function insist<T>(change: () => Promise<T>, signal: AbortSignal): Promise<T> {
  for (;;) {
    try {
      return await change();
    } catch (error) {
      if (!isDiskFull(error) || signal.aborted) throw error;
      await untilThereMayBeRoom(signal);
    }
  }
}
