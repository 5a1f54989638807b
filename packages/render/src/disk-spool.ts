import { randomUUID } from 'node:crypto';
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

/**
 * Samples that are written and read in one go, and that are kept without being written at all: 128 KiB. The parts of a programme all lie in
 * spools at once, and what each keeps adds up.
 */
const ROOM = 2 ** 15;

/** Blocks that lie one behind the other, by their frames. */
interface Stretch {
  lengths: number[];
  samples: number;
}

/**
 * A signal between passes, float32, on the disk in stretches of whole blocks; a short one stays in memory. Rooms are used again and again: what
 * is made anew for every block calls the garbage collector every few of them.
 */
export class DiskSpool implements Spool {
  /** On the disk, or on their way to it. */
  private readonly stretches: Stretch[] = [];
  private coming: Stretch = { lengths: [], samples: 0 };
  private room: Float32Array = new Float32Array(0);
  private writing: Promise<void> = Promise.resolve();
  /** The room of what is being written. */
  private otherRoom: Float32Array = new Float32Array(0);
  private handle: FileHandle | undefined;
  private writtenSamples = 0;
  private ended: Promise<void> | undefined;

  constructor(
    readonly format: SignalFormat,
    private readonly path: string,
  ) {}

  async write(block: Block): Promise<void> {
    const frames = framesOf(block);
    const samples = frames * block.length;
    if (this.coming.samples && this.coming.samples + samples > ROOM) await this.putAway();
    const { coming } = this;
    this.room = grown(this.room, coming.samples, coming.samples + samples);
    for (const [c, channel] of block.entries()) this.room.set(channel, coming.samples + c * frames);
    coming.lengths.push(frames);
    coming.samples += samples;
  }

  async *blocks({ signal }: { signal?: CancelSignal } = {}): AsyncGenerator<Block> {
    for await (const { samples, lengths } of this.parts()) {
      let at = 0;
      for (const frames of lengths) {
        signal?.throwIfAborted();
        const from = at;
        at += frames * this.format.channels;
        yield Array.from({ length: this.format.channels }, (_, c) =>
          samples.subarray(from + c * frames, from + (c + 1) * frames),
        );
      }
    }
  }

  async discard(): Promise<void> {
    await this.writing.catch(() => {}); // whoever wrote has heard of it
    const { handle } = this;
    this.handle = undefined;
    this.room = this.otherRoom = new Float32Array(0);
    if (!handle) return;
    await handle.close();
    await rm(this.path, { force: true });
  }

  /** Stretches one after the other, each in a room that its reader may change. */
  private async *parts(): AsyncGenerator<{ samples: Float32Array; lengths: readonly number[] }> {
    if (!this.stretches.length) {
      yield { samples: this.room.slice(0, this.coming.samples), lengths: this.coming.lengths };
      return;
    }
    this.ended ??= this.endWriting();
    await this.ended;
    const most = this.stretches.reduce((largest, { samples }) => Math.max(largest, samples), 0);
    const rooms = [new Float32Array(most), new Float32Array(most)];
    let at = 0;
    let reading: Promise<Float32Array> | undefined;
    const readNext = (i: number): void => {
      if (i === this.stretches.length) return;
      const { samples } = this.stretches[i];
      reading = this.read(rooms[i % 2].subarray(0, samples), at);
      reading.catch(() => {}); // surfaces when it is waited for
      at += samples;
    };
    try {
      readNext(0);
      for (const [i, { lengths }] of this.stretches.entries()) {
        const samples = await reading!;
        // the next stretch is fetched while this one is worked on
        readNext(i + 1);
        yield { samples, lengths };
      }
    } finally {
      await reading?.catch(() => {});
    }
  }

  /** What has come goes to the disk while more comes. */
  private async putAway(): Promise<void> {
    await this.writing;
    this.handle ??= await open(this.path, 'wx+');
    const { room, coming } = this;
    this.writing = writeFully(this.handle, room.subarray(0, coming.samples), 4 * this.writtenSamples);
    this.writing.catch(() => {}); // surfaces in the write or the reading that follows
    this.writtenSamples += coming.samples;
    this.stretches.push(coming);
    this.coming = { lengths: [], samples: 0 };
    this.room = this.otherRoom;
    this.otherRoom = room;
  }

  private async endWriting(): Promise<void> {
    if (this.coming.samples) await this.putAway();
    await this.writing;
    this.room = this.otherRoom = new Float32Array(0);
  }

  /** @param at of its first sample */
  private async read(room: Float32Array, at: number): Promise<Float32Array> {
    const bytes = bytesOf(room);
    for (let filled = 0; filled < bytes.length; ) {
      const { bytesRead } = await this.handle!.read(bytes, filled, bytes.length - filled, 4 * at + filled);
      if (!bytesRead) throw new SpoolCutError(this.path);
      filled += bytesRead;
    }
    return room;
  }
}

const bytesOf = ({ buffer, byteOffset, byteLength }: Float32Array): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);

/** A room for so many samples, with what it was filled with; a short signal gets a small one. */
function grown(room: Float32Array, filled: number, samples: number): Float32Array {
  if (room.length >= samples) return room;
  const larger = new Float32Array(Math.max(samples, Math.min(ROOM, 2 * room.length)));
  larger.set(room.subarray(0, filled));
  return larger;
}

async function writeFully(handle: FileHandle, samples: Float32Array, at: number): Promise<void> {
  const bytes = bytesOf(samples);
  for (let done = 0; done < bytes.length; )
    done += (await handle.write(bytes, done, bytes.length - done, at + done)).bytesWritten;
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
