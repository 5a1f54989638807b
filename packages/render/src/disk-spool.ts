import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream, type WriteStream } from 'node:fs';
import { type FileHandle, open, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type Block, type CancelSignal, framesOf, type SignalFormat, type Spool, TonosError } from '@tonos/core';

/** What was written between two passes is no longer all there. */
export class SpoolCutError extends TonosError {
  constructor(path: string) {
    super(
      'spool-cut',
      `The sound kept between two passes was cut short from outside (${path}). Look whether the disk is full or something clears that folder, and run it again.`,
    );
  }
}

/** A signal on disk between passes: blocks one after the other, float32, each with its length. */
export class DiskSpool implements Spool {
  private readonly lengths: number[] = [];
  private readonly out: WriteStream;

  constructor(
    readonly format: SignalFormat,
    private readonly path: string,
  ) {
    this.out = createWriteStream(path);
    this.out.on('error', () => {}); // surfaces in the write or the reading that follows
  }

  async write(block: Block): Promise<void> {
    // a stream that has failed never drains
    if (this.out.errored) throw this.out.errored;
    this.lengths.push(framesOf(block));
    const joined = new Float32Array(framesOf(block) * block.length);
    block.forEach((channel, c) => {
      joined.set(channel, c * framesOf(block));
    });
    if (!this.out.write(new Uint8Array(joined.buffer))) await once(this.out, 'drain');
  }

  async *blocks({ signal }: { signal?: CancelSignal } = {}): AsyncGenerator<Block> {
    if (!this.out.closed) {
      this.out.end();
      if (!this.out.closed) await once(this.out, 'close');
    }
    if (this.out.errored) throw this.out.errored;
    const handle = await open(this.path);
    let coming: Promise<Block> | undefined;
    try {
      let at = 0;
      const readNext = (frames: number | undefined): Promise<Block> | undefined => {
        if (frames === undefined) return undefined;
        const block = this.readBlock(handle, at, frames);
        at += 4 * frames * this.format.channels;
        block.catch(() => {}); // surfaces when it is waited for
        return block;
      };
      // the next block is fetched while this one is worked on
      coming = readNext(this.lengths[0]);
      for (let i = 1; coming; i++) {
        signal?.throwIfAborted();
        const block: Block = await coming;
        coming = readNext(this.lengths[i]);
        yield block;
      }
    } finally {
      await coming?.catch(() => {});
      await handle.close();
    }
  }

  private async readBlock(handle: FileHandle, at: number, frames: number): Promise<Block> {
    const joined = new Float32Array(frames * this.format.channels);
    const bytes = new Uint8Array(joined.buffer);
    let filled = 0;
    while (filled < bytes.length) {
      const { bytesRead } = await handle.read(bytes, filled, bytes.length - filled, at + filled);
      if (!bytesRead) throw new SpoolCutError(this.path);
      filled += bytesRead;
    }
    return Array.from({ length: this.format.channels }, (_, c) => joined.subarray(c * frames, (c + 1) * frames));
  }

  async discard(): Promise<void> {
    this.out.destroy();
    if (!this.out.closed) await once(this.out, 'close').catch(() => {});
    await rm(this.path, { force: true });
  }
}

export type OpenSpool = (format: SignalFormat) => Promise<DiskSpool>;

/** Work with spools in a folder; none of them is left, however it ends. */
export async function withSpools<Result>(
  folder: string,
  work: (openSpool: OpenSpool) => Promise<Result>,
): Promise<Result> {
  const spools: DiskSpool[] = [];
  try {
    return await work(async (format) => {
      const spool = new DiskSpool(format, join(folder, `${randomUUID()}.part`));
      spools.push(spool);
      return spool;
    });
  } finally {
    for (const spool of spools) await spool.discard();
  }
}
