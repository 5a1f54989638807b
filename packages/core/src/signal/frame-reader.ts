import { type Block, emptyBlock, framesOf, type Source, sliceBlock } from './signal.ts';

/** Reads a source in pieces of one's own size, in order. It is opened when it is first read. */
export class FrameReader {
  private blocks: AsyncIterator<Block> | undefined;
  private block: Block = [];
  /** Frames of the block that were taken. */
  private taken = 0;
  private isOver = false;

  constructor(private readonly source: Source) {}

  /** The next frames, fewer at the end, none behind it. The block is one's own to change until the next one is read. */
  async read(frames: number): Promise<Block> {
    if (!(await this.isThereMore())) return emptyBlock(this.source.format.channels, 0);
    if (framesOf(this.block) - this.taken >= frames) {
      // nothing is copied where one block holds them all
      const from = this.taken;
      this.taken += frames;
      return sliceBlock(this.block, from, this.taken);
    }
    const out = emptyBlock(this.source.format.channels, frames);
    let filled = 0;
    while (filled < frames && (await this.isThereMore())) {
      const count = Math.min(frames - filled, framesOf(this.block) - this.taken);
      for (let c = 0; c < out.length; c++) out[c].set(this.block[c].subarray(this.taken, this.taken + count), filled);
      filled += count;
      this.taken += count;
    }
    return filled === frames ? out : out.map((channel) => channel.subarray(0, filled));
  }

  /** Gives back what the source holds. */
  async close(): Promise<void> {
    this.isOver = true;
    await this.blocks?.return?.();
  }

  private async isThereMore(): Promise<boolean> {
    while (!this.isOver && this.taken >= framesOf(this.block)) {
      this.blocks ??= this.source.blocks()[Symbol.asyncIterator]();
      const next = await this.blocks.next();
      if (next.done) this.isOver = true;
      else [this.block, this.taken] = [next.value, 0];
    }
    return !this.isOver;
  }
}
