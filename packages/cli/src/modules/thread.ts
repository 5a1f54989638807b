import { readFile } from 'node:fs/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { knowModule, readModuleFile, sharedWatch, TonosError, watchModules } from '@tonos/core';
import type { FoundModule } from './find-modules.ts';
import { TASKS, type TaskName } from './tasks.ts';

/** A thread of the command, in which modules run: it can be ended where one does not come back. */

/** A machine with much to do rests for longer than a short block lasts. */
const LEAST_MS = 2000;

export interface ThreadData {
  watch: Int32Array;
  modules: readonly FoundModule[];
}
export type ToThread = { name: TaskName; input: object } | 'cancel';
export type FromThread = { value: unknown } | { error: ToldError };
/** An error as it crosses threads. */
export interface ToldError {
  code: string;
  message: string;
  details: Record<string, unknown>;
}

const { watch, modules } = workerData as ThreadData;
watchModules(sharedWatch(watch, LEAST_MS));
const known = Promise.all(
  modules.map(async ({ path, sha256 }) => knowModule({ sha256, ...readModuleFile(await readFile(path), path) })),
);

const tellError = (error: unknown): ToldError => ({
  code: error instanceof TonosError ? error.code : 'internal',
  message: (error as Error).message,
  details: error instanceof TonosError ? { ...error.details } : {},
});

/** Of several that end each in its own way, the errors too. */
const tellable = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map((one) => (one?.status === 'rejected' ? { ...one, reason: tellError(one.reason) } : one))
    : value;

let current: AbortController | undefined;
parentPort!.on('message', async (message: ToThread) => {
  if (message === 'cancel') return current?.abort();
  current = new AbortController();
  const say = (answer: FromThread) => parentPort!.postMessage(answer);
  try {
    await known;
    const task = TASKS[message.name] as (input: object) => Promise<unknown>;
    say({ value: tellable(await task({ ...message.input, signal: current.signal })) });
  } catch (error) {
    say({ error: tellError(error) });
  }
});
