import { readFile, stat, writeFile } from 'node:fs/promises';
import { type Claimed, type Completion, ROUTES } from '@tonos/contract';
import { TonosError } from '@tonos/core';
import { NO_FILES, PARCEL_BYTES, type Parcel } from '../jobs/parcel.ts';
import { filesOf, type Products, placeJob } from '../jobs/payload.ts';
import { isDiskFull } from '../storage/disk-trouble.ts';
import { bytesHash, fileHash } from '../storage/file-hash.ts';
import type { JobEnd } from '../workers/messages.ts';
import type { WorkerPool } from '../workers/worker-pool.ts';
import type { Bell } from './bell.ts';
import type { BlobCache } from './blob-cache.ts';
import type { Heart } from './heart.ts';
import { Refused, type ServerLink } from './server-link.ts';

type Work = NonNullable<Claimed['work']>;
type Made = Completion['made'][number];
/** What the server says comes next, with those of its files that are small. */
type Next = Parcel<Claimed>;

interface RemoteWorkNeeds {
  /** This machine. */
  id: string;
  link: ServerLink;
  cache: BlobCache;
  pool: WorkerPool;
  heart: Heart;
  bell: Bell;
  fatal(error: Error): void;
  stopped: AbortSignal;
}

const DISK_FULL = 'The disk of its cache is full.';

const NOTHING: Next = { head: { work: null }, files: NO_FILES };

/** The server lacks a file that this hangs on: it would on any machine. */
function gone(payload: Work['payload']): JobEnd {
  const name = payload.kind === 'measure' ? payload.name : payload.members.map((member) => member.name).join(', ');
  const message = `${name}: its file, or one that it is made with, is gone from the store. Bring it in again.`;
  const failed = { type: 'failed' as const, error: { code: 'no-source', message } };
  if (payload.kind === 'measure' || payload.members.length === 1) return failed;
  return { type: 'set-rendered', ends: payload.members.map(() => failed) };
}

/** Takes work from a server, does it on the threads of this machine, and sends what comes of it. */
export class RemoteWork {
  constructor(private readonly needs: RemoteWorkNeeds) {}

  /** Each thread by itself, until it is stopped: files come and go while others compute. */
  async run(): Promise<void> {
    const { pool } = this.needs;
    await Promise.all(Array.from({ length: pool.size }, () => this.serve()));
  }

  private async serve(): Promise<void> {
    const { bell, heart, stopped, fatal } = this.needs;
    let next: Next | null = null;
    while (!stopped.aborted) {
      try {
        const { head, files }: Next = next ?? (await this.claim());
        next = null;
        if (head.work) next = await this.carryOut(head.work, files);
        else await bell.wait(stopped, heart.mayTake);
      } catch (error) {
        if (stopped.aborted) return;
        // one that is not heard any more has nothing to do here
        if (error instanceof Refused && error.status === 401) return fatal(error);
        await bell.wait(stopped, false);
      }
    }
  }

  private async claim(): Promise<Next> {
    const { heart, link, id, stopped } = this.needs;
    if (!heart.mayTake) return NOTHING;
    return link.exchange(ROUTES.workClaim, { head: { machine: id }, files: NO_FILES }, stopped);
  }

  /** @returns what comes next, where the server has said so already */
  private async carryOut({ fence, payload }: Work, files: Next['files']): Promise<Next | null> {
    const { heart, cache, link, pool } = this.needs;
    const signal = heart.add(fence);
    let clear = async () => {};
    let letGo = () => {};
    try {
      letGo = await cache.hold(filesOf(payload), async (sha256, path) => {
        const bytes = files.get(sha256);
        await (bytes ? writeFile(path, bytes) : link.fetchBlob(sha256, path, signal));
      });
      const placed = await placeJob(payload, cache);
      clear = placed.clear;
      const startedMs = performance.now();
      const progress = (share: number, stage: string) => heart.progress(fence, share, stage);
      const end = await pool.run(placed.job, { signal, progress });
      const seconds = (performance.now() - startedMs) / 1000;
      if (end.type === 'cancelled') return await this.giveBack(fence);
      if (end.type === 'failed' && end.error.code === 'disk-full') return await this.rest(fence, DISK_FULL);
      const next = await this.finish(fence, end, placed.products, seconds, signal);
      heart.rested();
      return next;
    } catch (error) {
      if (signal.aborted) return await this.giveBack(fence);
      if (isDiskFull(error)) return await this.rest(fence, DISK_FULL);
      if (error instanceof Refused && error.status === 401) throw error;
      if (error instanceof Refused && error.status === 404)
        return await this.finish(fence, gone(payload), [], 0, signal);
      return await this.rest(
        fence,
        error instanceof TonosError ? error.message : `It can't work: ${(error as Error).message}.`,
      );
    } finally {
      heart.remove(fence);
      await clear();
      letGo();
    }
  }

  /** Sends what came of it, then says so. What was taken from this machine meanwhile is somebody else's. */
  private async finish(
    fence: number,
    end: JobEnd,
    products: readonly Products[],
    seconds: number,
    signal: AbortSignal,
  ): Promise<Next | null> {
    const { id: machine, link, heart, stopped } = this.needs;
    const ends = end.type === 'set-rendered' ? end.ends : [end];
    for (let most = PARCEL_BYTES; ; most = 0) {
      const along = new Map<string, Uint8Array>();
      const made: Made[] = [];
      for (const [i, one] of ends.entries()) made.push(await this.send(one, products[i], { along, most, signal }));
      const takesNext = heart.mayTake && !stopped.aborted;
      const head = { machine, fence, seconds, end, made, takesNext } as Completion;
      try {
        const complete = () => link.exchange(ROUTES.workComplete, { head, files: along }, signal);
        return await link.insist(complete, signal);
      } catch (error) {
        if (!(error instanceof Refused)) throw error;
        if (error.code === 'late') return null;
        // another machine sends the same bytes just now, or they are gone again: each is sent by itself, and its end waited for
        if (error.code !== 'bytes-missing') throw error;
      }
    }
  }

  /** Sends what came of a recording; what is small enough travels along with the call that says so. */
  private async send(
    end: JobEnd,
    { output, survey, copy }: Products,
    { along, most, signal }: { along: Map<string, Uint8Array>; most: number; signal: AbortSignal },
  ): Promise<Made> {
    if (end.type !== 'measured' && end.type !== 'rendered') return {};
    const paths = { ...(end.type === 'rendered' && { output }), survey, ...(end.copied && { copy }) };
    const made: Made = {};
    for (const [name, path] of Object.entries(paths) as [keyof Made, string][]) {
      const left = most - [...along.values()].reduce((sum, { length }) => sum + length, 0);
      if ((await stat(path)).size <= left) {
        const bytes = await readFile(path);
        made[name] = bytesHash(bytes);
        along.set(made[name], bytes);
      } else {
        made[name] = await fileHash(path);
        await this.needs.link.sendBlob(made[name], path, signal);
      }
    }
    return made;
  }

  private rest(fence: number, reason: string): Promise<null> {
    this.needs.heart.rest(reason);
    return this.giveBack(fence);
  }

  private async giveBack(fence: number): Promise<null> {
    const { id: machine, link, stopped } = this.needs;
    // one that leaves gives back all at once
    if (!stopped.aborted) await link.insist(() => link.call(ROUTES.workRelease, { body: { machine, fence } }), stopped);
    return null;
  }
}
