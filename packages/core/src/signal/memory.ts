import { type Block, copyBlock, framesOf, type SignalFormat, type Sink, type Source, sliceBlock } from './signal.ts';

/** A signal held in memory: short files in tests and pages, and the spool of the browser. */
export class MemorySignal implements Source, Sink {
  private readonly held: Block[];

  constructor(
    readonly format: SignalFormat,
    blocks: readonly Block[] = [],
  ) {
    this.held = [...blocks];
  }

  write(block: Block): void {
    this.held.push(copyBlock(block));
  }

  /** Blocks are copies: the reader may change them. */
  async *blocks(): AsyncGenerator<Block> {
    for (const block of this.held) yield copyBlock(block);
  }

  get frames(): number {
    return this.held.reduce((sum, block) => sum + framesOf(block), 0);
  }

  /** The whole signal as one block. */
  joined(): Block {
    const whole = Array.from({ length: this.format.channels }, () => new Float32Array(this.frames));
    let at = 0;
    for (const block of this.held) {
      block.forEach((channel, c) => {
        whole[c].set(channel, at);
      });
      at += framesOf(block);
    }
    return whole;
  }
}

/** A signal in memory between passes. */
export class MemorySpool extends MemorySignal {
  async discard(): Promise<void> {}
}

/** Cuts one long block into blocks of `size` frames. */
export function* cut(block: Block, size: number): Generator<Block> {
  const frames = framesOf(block);
  for (let start = 0; start < frames; start += size) yield sliceBlock(block, start, Math.min(start + size, frames));
}
