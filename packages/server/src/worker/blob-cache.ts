import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rename, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { TonosError } from '@tonos/core';
import { LRUCache } from 'lru-cache';
import type { Workplace } from '../jobs/payload.ts';
import { fileHash } from '../storage/file-hash.ts';

/** Brings a file, or the rest of it, to a path. */
type Fetch = (sha256: string, path: string) => Promise<void>;

/**
 * A machine's own files: what it works on, by content and within a limit, and below it all that is in the making. What is worked on stays
 * whatever the limit; everything else goes, the longest unused first.
 */
export class BlobCache implements Workplace {
  private readonly kept: LRUCache<string, number>;
  private readonly inUse = new Map<string, number>();
  private readonly coming = new Map<string, Promise<void>>();

  private constructor(
    private readonly folder: string,
    limitBytes: number,
  ) {
    this.kept = new LRUCache<string, number>({
      // a fraction of a gigabyte is seldom a whole number of bytes
      maxSize: Math.max(1, Math.floor(limitBytes)),
      sizeCalculation: (bytes) => Math.max(1, bytes),
      dispose: (_, sha256, reason) => {
        if (reason !== 'set' && !this.inUse.has(sha256)) this.drop(sha256);
      },
    });
  }

  /** What an earlier start left in the making goes; files stay, and are looked at when they are used. */
  static async open(folder: string, limitBytes: number): Promise<BlobCache> {
    const cache = new BlobCache(folder, limitBytes);
    for (const name of ['tmp', 'spool']) {
      await rm(join(folder, name), { recursive: true, force: true });
      await mkdir(join(folder, name), { recursive: true });
    }
    await mkdir(join(folder, 'files'), { recursive: true });
    const found = await Promise.all(
      (await readdir(join(folder, 'files'))).map(async (name) => ({ name, ...(await stat(cache.pathOf(name))) })),
    );
    // one that alone is larger than the limit is not kept at all
    for (const { name, size } of found.sort((a, b) => a.mtimeMs - b.mtimeMs)) cache.keep(name, size);
    return cache;
  }

  /** Of files that are kept. */
  get bytes(): number {
    return this.kept.calculatedSize;
  }

  pathOf(sha256: string): string {
    return join(this.folder, 'files', sha256);
  }

  temporaryPath(): string {
    return join(this.folder, 'tmp', randomUUID());
  }

  async spoolFolder(): Promise<string> {
    const folder = join(this.folder, 'spool', randomUUID());
    await mkdir(folder, { recursive: true });
    return folder;
  }

  async discard(path: string): Promise<void> {
    await rm(path, { recursive: true, force: true });
  }

  /**
   * Brings what is missing, and holds all of it.
   * @returns what lets it go again, once
   * @throws TonosError `wrong-hash` where what comes is not what it should be
   */
  async hold(hashes: readonly string[], fetch: Fetch): Promise<() => void> {
    const own = new Set(hashes);
    for (const sha256 of own) this.inUse.set(sha256, (this.inUse.get(sha256) ?? 0) + 1);
    const letGo = () => {
      for (const sha256 of own) this.letGo(sha256);
      own.clear();
    };
    try {
      for (const sha256 of own) await this.bring(sha256, fetch);
      return letGo;
    } catch (error) {
      letGo();
      throw error;
    }
  }

  /** One at a time for each file: who comes second waits for the first. */
  private bring(sha256: string, fetch: Fetch): Promise<void> {
    const before = this.coming.get(sha256) ?? Promise.resolve();
    const mine = before.catch(() => {}).then(() => this.bringNow(sha256, fetch));
    this.coming.set(sha256, mine);
    const done = () => this.coming.get(sha256) === mine && this.coming.delete(sha256);
    mine.then(done, done);
    return mine;
  }

  private async bringNow(sha256: string, fetch: Fetch): Promise<void> {
    const path = this.pathOf(sha256);
    if (await isWhole(path, sha256)) {
      const now = new Date();
      await utimes(path, now, now);
      this.kept.get(sha256);
      return;
    }
    const part = join(this.folder, 'tmp', `${sha256}.part`);
    try {
      await fetch(sha256, part);
      if (!(await isWhole(part, sha256)))
        throw new TonosError('wrong-hash', 'A file that came from the server is not what its hash says.');
      const { size } = await stat(part);
      await rename(part, path);
      this.keep(sha256, size);
    } finally {
      await this.discard(part);
    }
  }

  private keep(sha256: string, bytes: number): void {
    this.kept.set(sha256, bytes);
    if (!this.kept.has(sha256) && !this.inUse.has(sha256)) this.drop(sha256);
  }

  private letGo(sha256: string): void {
    const left = this.inUse.get(sha256)! - 1;
    if (left) return void this.inUse.set(sha256, left);
    this.inUse.delete(sha256);
    if (!this.kept.has(sha256)) this.drop(sha256);
  }

  private drop(sha256: string): void {
    void rm(this.pathOf(sha256), { force: true }).catch(() => {}); // it is tried again when it is looked at the next time
  }
}

/** Whether a file is what its hash says. */
async function isWhole(path: string, sha256: string): Promise<boolean> {
  try {
    return (await fileHash(path)) === sha256;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return false;
    throw error;
  }
}
