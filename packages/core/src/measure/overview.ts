import { extremesOf, held, MOST_FRAMES } from '@tonos/kernels';
import { cut } from '../signal/memory.ts';
import { type Block, framesOf } from '../signal/signal.ts';

const LEAST_COLUMNS = 600;

/**
 * The whole signal as 600 to 1,199 columns of smallest and largest sample over all channels. The length need not be known:
 * when there are too many columns, neighbours are joined.
 */
export class OverviewMeter {
  private low: number[] = [];
  private high: number[] = [];
  private framesPerColumn = 64;
  private filled = 0;

  hear(block: Block): void {
    for (const piece of cut(block, MOST_FRAMES)) this.hearPiece(piece);
  }

  private hearPiece(block: Block): void {
    const frames = framesOf(block);
    const places = block.map((samples, c) => held(samples, c));
    let start = 0;
    while (start < frames) {
      if (this.filled === 0) this.open();
      const end = Math.min(frames, start + this.framesPerColumn - this.filled);
      const last = this.low.length - 1;
      for (const place of places) {
        const { low, high } = extremesOf(place + 4 * start, end - start);
        this.low[last] = Math.min(this.low[last], low);
        this.high[last] = Math.max(this.high[last], high);
      }
      this.filled = (this.filled + end - start) % this.framesPerColumn;
      start = end;
    }
  }

  /** Pairs of smallest and largest, rounded to a thousandth of full scale. */
  conclude(): [low: number, high: number][] {
    return this.low.map((low, i) => [Math.round(low * 1000) / 1000, Math.round(this.high[i] * 1000) / 1000]);
  }

  private open(): void {
    if (this.low.length === 2 * LEAST_COLUMNS) {
      const join = (values: number[], pick: (a: number, b: number) => number) =>
        Array.from({ length: LEAST_COLUMNS }, (_, i) => pick(values[2 * i], values[2 * i + 1]));
      this.low = join(this.low, Math.min);
      this.high = join(this.high, Math.max);
      this.framesPerColumn *= 2;
    }
    this.low.push(0);
    this.high.push(0);
  }
}
