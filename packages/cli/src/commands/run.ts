import { rm } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { ROUTES, type Run, type RunItem } from '@tonos/contract';
import { type LimitResult, type Measurement, TonosError } from '@tonos/core';
import { eachFile, type FileError, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { freePath } from '../free-path.ts';
import { makeFolders } from '../make-folders.ts';
import { writtenText } from '../output/figures.ts';
import { print } from '../output/print.ts';
import { ServerSays, TonosServer } from '../remote/tonos-server.ts';
import { stopSignal } from '../stop-signal.ts';
import { UsageError } from '../usage-error.ts';

export interface RunOptions {
  server: string;
  title: string;
  chain: string;
  target: string;
  out: string;
  json?: boolean;
}

interface Done {
  /** Null where it is off target: only what is within is fetched. */
  output: string | null;
  before: Measurement | null;
  after: Measurement | null;
  verdict: 'within' | 'off-target';
  limits: readonly LimitResult[];
  seconds: number | null;
  runId: string;
  itemId: string;
}

const LOOK_EVERY_MS = 500;

/** Sends files to a server, runs its chain over them there, waits, and fetches what is within. @returns the exit status */
export async function run(files: readonly string[], options: RunOptions): Promise<number> {
  const signal = stopSignal();
  const server = new TonosServer(options.server, process.env.TONOS_TOKEN, signal);
  const [titleId, chainId, targetId] = await named(server, options);
  await rm(await makeFolders(options.out), { recursive: true });
  const sent = await eachFile(files, async (file) => ({ id: await server.send(file, titleId) }));
  const there = sent.flatMap((one) => (isFailure(one) ? [] : [one]));
  let results: (FileError | ({ file: string } & Done))[] = sent.filter(isFailure);
  if (there.length) {
    const recordingIds = there.map(({ id }) => id);
    const { id } = await server.call(ROUTES.startRun, {}, { titleId, recordingIds, chainId, targetId });
    const { items } = await finished(server, id, signal);
    const taken = new Set<string>();
    const made = await eachFile(
      there.map(({ file }) => file),
      async (file) => {
        const { id: recordingId } = there.find((one) => one.file === file)!;
        return fetched(server, options.out, file, items.find((item) => item.recordingId === recordingId)!, taken);
      },
    );
    results = sent.map((one) => (isFailure(one) ? one : made[there.indexOf(one)]));
  }
  print(results, options.json, writtenText);
  return exitStatus(results);
}

/** Title, chain and target by name or id. @throws UsageError where one is not there, or two are called so: nothing has been sent then */
async function named(server: TonosServer, { title, chain, target }: RunOptions): Promise<string[]> {
  try {
    return [
      idOf('title', title, await server.call(ROUTES.titles)),
      idOf('chain', chain, await server.call(ROUTES.chains)),
      idOf('target', target, await server.call(ROUTES.targets)),
    ];
  } catch (error) {
    if (error instanceof ServerSays && error.status === 401)
      throw new UsageError('The server wants a token, or a good one: make one on its page “You”, and set TONOS_TOKEN.');
    if (error instanceof ServerSays && error.status === 403) throw new UsageError(error.message);
    throw error;
  }
}

function idOf(what: string, asked: string, all: readonly { id: string; name: string }[]): string {
  const own = all.find(({ id }) => id === asked);
  if (own) return own.id;
  const called = all.filter(({ name }) => name === asked);
  if (called.length === 1) return called[0].id;
  if (called.length)
    throw new UsageError(
      `${called.length} of the server’s ${what}s are called “${asked}”. Give the id of one: ${called.map(({ id }) => id).join(', ')}.`,
    );
  throw new UsageError(
    `The server has no ${what} “${asked}”. It has ${all.map(({ name }) => `“${name}”`).join(', ') || 'none'}.`,
  );
}

/** Waits until a run is over, and says how far it is. Whoever ends the command ends the run. */
async function finished(server: TonosServer, id: string, signal: AbortSignal): Promise<Run> {
  let said = '';
  try {
    for (;;) {
      const now = (await server.call(ROUTES.run, { id })) as Run;
      const { queued, working, ...over } = now.counts;
      const done = Object.values(over).reduce((sum, n) => sum + n, 0);
      const text = `${done} of ${now.items.length} rendered`;
      if (text !== said) process.stderr.write(`${text}\n`);
      said = text;
      if (queued + working === 0) return now;
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
      signal.throwIfAborted();
    }
  } catch (error) {
    if (signal.aborted)
      await new TonosServer(server.origin, process.env.TONOS_TOKEN, new AbortController().signal)
        .call(ROUTES.cancelRun, { id })
        .catch(() => {});
    throw error;
  }
}

async function fetched(
  server: TonosServer,
  out: string,
  file: string,
  item: RunItem,
  taken: Set<string>,
): Promise<Done> {
  const { id: itemId, runId, before, after, limits, seconds, status, output, error } = item;
  if (status !== 'within' && status !== 'off-target')
    throw new TonosError(error?.code ?? status, error?.message ?? `${file}: the run was ${status}.`, { file });
  let path: string | null = null;
  if (status === 'within' && output) {
    path = freePath(out, basename(output.name, extname(output.name)), extname(output.name), taken);
    await server.fetchTo(path, runId, itemId);
  }
  return { output: path, before, after, verdict: status, limits: limits as LimitResult[], seconds, runId, itemId };
}
