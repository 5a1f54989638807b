import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { open, stat, unlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Sent } from '@tonos/contract';
import { LRUCache } from 'lru-cache';
import { HttpProblem } from '../http/problems.ts';
import type { HashedFile } from '../jobs/job-kind.ts';
import type { BlobStore, StoredBlob } from '../storage/blob-store.ts';
import { bytesHash, fileHash } from '../storage/file-hash.ts';

/** Where a stretch of a file lies in the whole. */
export interface Stretch {
  from: number;
  total: number;
}

/** Who sends nothing for so long makes room for another who sends the same. */
const STALLED_MS = 5000;
/** What was sent and is not used goes after so long. */
const UNUSED_MS = 6 * 3600_000;

/**
 * Files that machines send, by their hashes, until a job names them. Whoever sends one goes on where the last one stopped: the bytes are the
 * same by their hash, which is checked once all are there.
 */
export class Incoming {
  private readonly sending = new Set<string>();
  /** Files that lie here, and how long those are that are whole. */
  private readonly here: LRUCache<string, { wholeBytes: number | null }>;

  constructor(private readonly store: BlobStore) {
    this.here = new LRUCache({
      ttl: UNUSED_MS,
      ttlAutopurge: true,
      dispose: (_, sha256, reason) => {
        if (reason === 'set' || this.sending.has(sha256)) return;
        void unlink(this.pathOf(sha256)).catch(() => {}); // it lies in the store by now
      },
    });
  }

  /** What there is of a file. */
  async state(sha256: string): Promise<Sent> {
    const isThere = this.has(sha256) || (await this.store.find(sha256)) !== null;
    if (isThere) return { isThere, receivedBytes: 0 };
    const { size } = await stat(this.pathOf(sha256)).catch(() => ({ size: 0 }));
    return { isThere, receivedBytes: size };
  }

  /**
   * Takes a stretch that begins where the last one stopped.
   * @throws HttpProblem 409 `being-sent` while somebody else sends it, `elsewhere` where it begins at another place; 422 `wrong-hash`
   */
  async take(sha256: string, stretch: Stretch, stream: Readable): Promise<Sent> {
    if (this.sending.has(sha256)) throw new HttpProblem(409, 'being-sent', 'Somebody sends this file just now.');
    return this.alone(sha256, () => this.takeNow(sha256, stretch, stream));
  }

  private async takeNow(sha256: string, { from, total }: Stretch, stream: Readable): Promise<Sent> {
    const before = await this.state(sha256);
    if (before.isThere) return before;
    if (from !== before.receivedBytes)
      throw new HttpProblem(409, 'elsewhere', `Of this file ${before.receivedBytes} bytes are here: go on there.`, {
        receivedBytes: before.receivedBytes,
      });
    const stall = setTimeout(
      () =>
        stream.destroy(new HttpProblem(408, 'stalled', 'Nothing more of this file came. Go on where it broke off.')),
      STALLED_MS,
    );
    try {
      this.here.set(sha256, PART);
      const hash = from === 0 ? createHash('sha256') : undefined;
      let at = from;
      await pipeline(
        stream,
        async function* (chunks: AsyncIterable<Buffer>) {
          for await (const chunk of chunks) {
            at += chunk.length;
            stall.refresh();
            if (at > total) throw new HttpProblem(400, 'too-long', `More than the ${total} bytes came that were told.`);
            hash?.update(chunk);
            yield chunk;
          }
        },
        createWriteStream(this.pathOf(sha256), { flags: 'a' }),
      );
      if (at < total) return { isThere: false, receivedBytes: at };
      return await this.finish(sha256, hash?.digest('hex') ?? (await fileHash(this.pathOf(sha256))), total);
    } finally {
      clearTimeout(stall);
    }
  }

  /**
   * Takes a small file at once. One that is there, or that somebody else sends just now, is left as it is.
   * @throws HttpProblem 422 `wrong-hash`
   */
  async put(sha256: string, bytes: Uint8Array): Promise<void> {
    if (this.sending.has(sha256)) return;
    if (bytesHash(bytes) !== sha256) throw wrongHash();
    await this.alone(sha256, async () => {
      if (this.has(sha256)) return;
      this.here.set(sha256, PART);
      await writeFile(this.pathOf(sha256), bytes, { flush: true });
      this.here.set(sha256, { wholeBytes: bytes.length });
    });
  }

  private async alone<T>(sha256: string, work: () => Promise<T>): Promise<T> {
    this.sending.add(sha256);
    return work().finally(() => this.sending.delete(sha256));
  }

  /** @throws HttpProblem 409 `bytes-missing` where it was not sent */
  async use(sha256: string): Promise<HashedFile | StoredBlob> {
    const sizeBytes = this.here.get(sha256)?.wholeBytes ?? null;
    if (sizeBytes !== null) return { path: this.pathOf(sha256), sha256, sizeBytes };
    const there = await this.store.findAgain(sha256);
    if (there) return there;
    throw new HttpProblem(409, 'bytes-missing', 'This file was not sent: send it first.', { sha256 });
  }

  /** Whether it lies here. */
  has(sha256: string): boolean {
    return (this.here.get(sha256)?.wholeBytes ?? null) !== null;
  }

  /** It was taken into the store, under another name. */
  used(sha256: string): void {
    this.here.delete(sha256);
  }

  private async finish(sha256: string, found: string, sizeBytes: number): Promise<Sent> {
    if (found !== sha256) {
      await this.store.discard(this.pathOf(sha256));
      throw wrongHash();
    }
    const file = await open(this.pathOf(sha256), 'r');
    await file.sync().finally(() => file.close());
    this.here.set(sha256, { wholeBytes: sizeBytes });
    return { isThere: true, receivedBytes: sizeBytes };
  }

  private pathOf(sha256: string): string {
    return join(this.store.temporaryFolder, `${sha256}.incoming`);
  }
}

const PART = { wholeBytes: null };

const wrongHash = () =>
  new HttpProblem(422, 'wrong-hash', 'What came is not what its hash says. Send it again from its start.');
