import { TonosError } from '@tonos/core';

/** Of TONOS_QUEUE, which may be missing. @throws TonosError `bad-queue`, without the address: it can hold a password */
export function queueUrl(said: string | undefined): string | undefined {
  if (!said || /^rediss?:\/\//.test(said)) return said || undefined;
  throw new TonosError('bad-queue', 'TONOS_QUEUE is no address of a Redis: give one such as redis://127.0.0.1:6379.');
}
