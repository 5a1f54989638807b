import { randomUUID } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { lockFolder } from '../storage/folder-lock.ts';
import { WorkerPool } from '../workers/worker-pool.ts';
import { Bell } from './bell.ts';
import { BlobCache } from './blob-cache.ts';
import { Heart } from './heart.ts';
import { listenToQueue } from './queue-bell.ts';
import { RemoteWork } from './remote-work.ts';
import { ServerLink } from './server-link.ts';

export interface WorkerOptions {
  server: string;
  token: string;
  /** Where the queue is that rings; without one the server is asked every few seconds. */
  queueUrl?: string;
  name: string;
  version: string;
  threads: number;
  cacheFolder: string;
  cacheLimitBytes: number;
  say(line: string): void;
}

export interface RunningWorker {
  /** Rejects where the server will not hear this machine. */
  ended: Promise<void>;
  /** Stops, and gives back what it has. */
  stop(): Promise<void>;
}

/** So long it is tried to say goodbye. */
const GOODBYE_MS = 5000;

/** Works along with a server until it is stopped. @throws TonosError `folder-in-use` */
export async function runWorker(options: WorkerOptions): Promise<RunningWorker> {
  const { server, token, name, version, threads, cacheFolder, cacheLimitBytes, say } = options;
  await mkdir(cacheFolder, { recursive: true });
  const lock = await lockFolder(cacheFolder, 'TONOS_WORKER_CACHE');
  const stopping = new AbortController();
  const stopped = stopping.signal;
  let fatal: (error: Error) => void = () => {};
  const refused = new Promise<never>((_, reject) => {
    fatal = reject;
  });
  const id = await ownId(cacheFolder);
  const cache = await BlobCache.open(cacheFolder, cacheLimitBytes);
  const link = new ServerLink(server, token, stopped);
  const bell = new Bell();
  const pool = new WorkerPool(threads, undefined, { background: true, pathOf: (sha256) => cache.pathOf(sha256) });
  const hello = { id, name, version, threads, cacheLimitBytes };
  const listens = options.queueUrl !== undefined;
  const heart = new Heart({ link, hello, bell, listens, cacheBytes: () => cache.bytes, say, fatal, stopped });
  let closeQueue = async () => {};

  const work = async () => {
    const queue = await heart.begin();
    if (queue && options.queueUrl) closeQueue = listenToQueue(options.queueUrl, queue, bell, say);
    await new RemoteWork({ id, link, cache, pool, heart, bell, fatal, stopped }).run();
  };
  const done = work();
  // whoever waits for its end hears of what went wrong
  done.catch(() => {});
  refused.catch(() => {});
  return {
    ended: Promise.race([done, refused]).catch((error) => {
      if (!stopped.aborted) throw error;
    }),
    stop: async () => {
      stopping.abort();
      await heart.leave(AbortSignal.timeout(GOODBYE_MS));
      await done.catch(() => {});
      await closeQueue();
      await pool.close();
      lock.release();
    },
  };
}

/** By which it is known again after another start. */
async function ownId(folder: string): Promise<string> {
  const path = join(folder, 'machine-id');
  const known = await readFile(path, 'utf8').catch(() => '');
  if (/^[0-9a-f-]{36}$/.test(known)) return known;
  const id = randomUUID();
  await writeFile(path, id);
  return id;
}
