import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { access, mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

export interface StoredBlob {
  sha256: string;
  sizeBytes: number;
}

/** Files by their content, under `<data>/blobs/<sha256>`. Nothing half-written is ever visible there. */
export class BlobStore {
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

  /** A path for a file in the making; `adopt` or `discard` ends it. */
  temporaryPath(): string {
    return join(this.dataFolder, 'tmp', `${randomUUID()}.part`);
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
      return await this.place(path, hash.digest('hex'), sizeBytes);
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
    return this.place(path, hash.digest('hex'), sizeBytes);
  }

  async discard(path: string): Promise<void> {
    await rm(path, { recursive: true, force: true });
  }

  private async place(path: string, sha256: string, sizeBytes: number): Promise<StoredBlob> {
    const there = await isThere(this.pathOf(sha256));
    if (there) await this.discard(path);
    else {
      await rename(path, this.pathOf(sha256));
      await syncFile(join(this.dataFolder, 'blobs'));
    }
    return { sha256, sizeBytes };
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
