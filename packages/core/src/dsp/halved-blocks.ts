import { cut } from '../signal/memory.ts';
import type { Block, SignalFormat } from '../signal/signal.ts';
import { Halvings, halvingsTo, MOST_HALVED } from './halvings.ts';

/** All channels at a rate that is enough, beside what they were: several who need no more share the work. */
export class HalvedBlocks {
  readonly rate: number;
  readonly halvings: number;
  private readonly channels: Halvings[];

  /** @param leastHz as low as the rate may go */
  constructor({ sampleRateHz, channels }: SignalFormat, leastHz: number) {
    this.halvings = halvingsTo(sampleRateHz, leastHz);
    this.rate = sampleRateHz / 2 ** this.halvings;
    this.channels = Array.from({ length: channels }, () => new Halvings(this.halvings));
  }

  /** A block piece by piece, each with what comes of it; that is good until the next one. */
  *of(block: Block): Generator<{ piece: Block; slower: Block }> {
    for (const piece of cut(block, MOST_HALVED))
      yield { piece, slower: piece.map((samples, c) => this.channels[c].push(samples)) };
  }

  /** How many frames there are once so many have been heard. */
  framesAfter(frames: number): number {
    return Math.ceil(frames / 2 ** this.halvings);
  }
}
