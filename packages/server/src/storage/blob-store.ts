import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { access, mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { LRUCache } from 'lru-cache';

export interface StoredBlob {
  sha256: string;
  sizeBytes: number;
}

/** A file that has just come in may not be recorded yet; so long nobody deletes it. */
const FRESH_MS = 3_600_000;

/** Files by their content, under `<data>/blobs/<sha256>`. Nothing half-written is ever visible there. */
export class BlobStore {
  /** Files that came in and that nobody has recorded yet. */
  // without a greatest number: one that is set up for many takes milliseconds to empty
  private readonly fresh = new LRUCache<string, true>({ ttl: FRESH_MS, ttlAutopurge: true });
  /** Files that are being read for long, each with how often. */
  private readonly pinned = new Map<string, number>();
  /** A file comes or goes: one at a time, so that none goes that was just found to be there. */
  private lastMove: Promise<unknown> = Promise.resolve();

  private constructor(private readonly dataFolder: string) {}

  get folder(): string {
    return this.dataFolder;
  }

  /** Makes the folders and sweeps what a crash left between. */
  static async open(dataFolder: string): Promise<BlobStore> {
    for (const name of ['tmp', 'spool']) {
      const folder = join(dataFolder, name);
      await mkdir(folder, { recursive: true });
      for (const left of await readdir(folder)) await rm(join(folder, left), { recursive: true, force: true });
    }
    for (const name of ['blobs', 'derived']) await mkdir(join(dataFolder, name), { recursive: true });
    return new BlobStore(dataFolder);
  }

  pathOf(sha256: string): string {
    return join(this.dataFolder, 'blobs', sha256);
  }

  /** Something made from a blob, which can be made again: its survey, a copy that can be read at random. */
  derivedPath(sha256: string, ending: '.survey' | '.wav'): string {
    return join(this.dataFolder, 'derived', `${sha256}${ending}`);
  }

  /** Whatever may have been derived from a file. */
  derivedPaths(sha256: string): string[] {
    return (['.survey', '.wav'] as const).map((ending) => this.derivedPath(sha256, ending));
  }

  /** Puts a finished, synced file in the place of what is derived. */
  async placeDerived(path: string, sha256: string, ending: '.survey' | '.wav'): Promise<void> {
    await rename(path, this.derivedPath(sha256, ending));
  }

  async hasDerived(sha256: string, ending: '.survey' | '.wav'): Promise<boolean> {
    return isThere(this.derivedPath(sha256, ending));
  }

  /** Where resumable uploads lie until they are complete; they outlive a restart. */
  get uploadsFolder(): string {
    return join(this.dataFolder, 'uploads');
  }

  /** Where files in the making lie; what is left there is swept at the next start. */
  get temporaryFolder(): string {
    return join(this.dataFolder, 'tmp');
  }

  /** A path for a file in the making; `adopt` or `discard` ends it. */
  temporaryPath(): string {
    return join(this.temporaryFolder, `${randomUUID()}.part`);
  }

  /** A folder of its own for one job's spools; remove it with `discard`. */
  async spoolFolder(): Promise<string> {
    const folder = join(this.dataFolder, 'spool', randomUUID());
    await mkdir(folder, { recursive: true });
    return folder;
  }

  /**
   * Takes a stream from outside. Leaves nothing behind where it breaks off, or where `check` throws once it has ended.
   */
  async receive(stream: Readable, check: () => void = () => {}): Promise<StoredBlob> {
    const path = this.temporaryPath();
    const hash = createHash('sha256');
    let sizeBytes = 0;
    try {
      await pipeline(
        stream,
        async function* (chunks: AsyncIterable<Buffer>) {
          for await (const chunk of chunks) {
            hash.update(chunk);
            sizeBytes += chunk.length;
            yield chunk;
          }
        },
        createWriteStream(path),
      );
      check();
      await syncFile(path);
      return await this.place(path, { sha256: hash.digest('hex'), sizeBytes });
    } catch (error) {
      await this.discard(path);
      throw error;
    }
  }

  /** Takes a finished, synced file under its content's name. */
  async adopt(path: string): Promise<StoredBlob> {
    const hash = createHash('sha256');
    let sizeBytes = 0;
    for await (const chunk of createReadStream(path) as AsyncIterable<Buffer>) {
      hash.update(chunk);
      sizeBytes += chunk.length;
    }
    return this.place(path, { sha256: hash.digest('hex'), sizeBytes });
  }

  async find(sha256: string): Promise<StoredBlob | null> {
    const found = await stat(this.pathOf(sha256)).catch(() => null);
    return found && { sha256, sizeBytes: found.size };
  }

  /** One that is there already, as if it had just come in: until it is recorded again nobody deletes it. */
  findAgain(sha256: string): Promise<StoredBlob | null> {
    return this.move(async () => {
      const found = await this.find(sha256);
      if (found) this.fresh.set(sha256, true);
      return found;
    });
  }

  async discard(path: string): Promise<void> {
    await rm(path, { recursive: true, force: true });
  }

  /** These files are in the database by now: from here on it is the database that says who needs them. */
  recorded(hashes: readonly string[]): void {
    for (const sha256 of hashes) this.fresh.delete(sha256);
  }

  /** Keeps files from being deleted while they are read. @returns what lets them go again, once */
  pin(hashes: readonly string[]): () => void {
    const own = new Set(hashes);
    for (const sha256 of own) this.pinned.set(sha256, (this.pinned.get(sha256) ?? 0) + 1);
    return () => {
      for (const sha256 of own) {
        const left = this.pinned.get(sha256)! - 1;
        if (left) this.pinned.set(sha256, left);
        else this.pinned.delete(sha256);
      }
      own.clear();
    };
  }

  /**
   * Deletes a file, and what was derived from it, unless it has just come in or is being read.
   * @returns the room that it gave, in bytes; null where it stays
   */
  async remove(sha256: string): Promise<number | null> {
    return this.move(async () => {
      if (this.fresh.has(sha256) || this.pinned.has(sha256)) return null;
      let bytes = 0;
      const derived = this.derivedPaths(sha256);
      for (const path of [this.pathOf(sha256), ...derived]) {
        bytes += (await stat(path).catch(() => ({ size: 0 }))).size;
        await this.discard(path);
      }
      return bytes;
    });
  }

  private move<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.lastMove.then(work);
    this.lastMove = mine.catch(() => {});
    return mine;
  }

  /** Takes a finished, synced file whose content's name is known. */
  place(path: string, { sha256, sizeBytes }: StoredBlob): Promise<StoredBlob> {
    return this.move(async () => {
      this.fresh.set(sha256, true);
      return this.placeNow(path, { sha256, sizeBytes });
    });
  }

  private async placeNow(path: string, blob: StoredBlob): Promise<StoredBlob> {
    // one that is there already has the same content
    await rename(path, this.pathOf(blob.sha256));
    await syncFile(join(this.dataFolder, 'blobs'));
    return blob;
  }
}

const isThere = (path: string): Promise<boolean> =>
  access(path).then(
    () => true,
    () => false,
  );

async function syncFile(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
