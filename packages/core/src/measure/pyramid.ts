import { extremesOf, held, kernels, MOST_FRAMES } from '@tonos/kernels';
import { cut } from '../signal/memory.ts';
import { type Block, framesOf } from '../signal/signal.ts';

/**
 * Smallest sample, largest sample and RMS of stretches of 256 frames, and of ever longer ones: a drawing of any part at any
 * zoom reads about as many columns as it has pixels. Samples are held in 16 bits, which no screen can tell from more.
 */
export const BASE_FRAMES = 256;
const FACTOR = 8;
const SCALE = 32767;

export interface PyramidChannel {
  low: Int16Array;
  high: Int16Array;
  rms: Uint16Array;
}

export interface PyramidLevel {
  framesPerColumn: number;
  columns: number;
  channels: PyramidChannel[];
}

const emptyChannel = (columns: number): PyramidChannel => ({
  low: new Int16Array(columns),
  high: new Int16Array(columns),
  rms: new Uint16Array(columns),
});

const grown = ({ low, high, rms }: PyramidChannel): PyramidChannel => {
  const next = emptyChannel(low.length * 2);
  next.low.set(low);
  next.high.set(high);
  next.rms.set(rms);
  return next;
};

const toInteger = (x: number) => Math.max(-SCALE, Math.min(SCALE, Math.round(x * SCALE)));

export class PyramidMeter {
  private readonly base: PyramidChannel[];
  private columns = 0;
  private filled = 0;
  private readonly lows: Float64Array;
  private readonly highs: Float64Array;
  private readonly energies: Float64Array;

  constructor(channels: number) {
    this.base = Array.from({ length: channels }, () => emptyChannel(4096));
    this.lows = new Float64Array(channels);
    this.highs = new Float64Array(channels);
    this.energies = new Float64Array(channels);
  }

  hear(block: Block): void {
    for (const piece of cut(block, MOST_FRAMES)) this.hearPiece(piece);
  }

  private hearPiece(block: Block): void {
    const frames = framesOf(block);
    const places = block.map((samples, c) => held(samples, c));
    let start = 0;
    while (start < frames) {
      const end = Math.min(frames, start + BASE_FRAMES - this.filled);
      for (let c = 0; c < block.length; c++) this.hearStretch(places[c] + 4 * start, end - start, c);
      this.filled += end - start;
      start = end;
      if (this.filled === BASE_FRAMES) this.endColumn();
    }
  }

  conclude(): PyramidLevel[] {
    if (this.filled) this.endColumn();
    const { columns } = this;
    // views, no copies: those of ten hours are large
    const channels = this.base.map(({ low, high, rms }) => ({
      low: low.subarray(0, columns),
      high: high.subarray(0, columns),
      rms: rms.subarray(0, columns),
    }));
    const levels: PyramidLevel[] = [{ framesPerColumn: BASE_FRAMES, columns, channels }];
    while (levels.at(-1)!.columns > FACTOR) levels.push(coarser(levels.at(-1)!));
    return levels;
  }

  private hearStretch(at: number, frames: number, c: number): void {
    const { low, high } = extremesOf(at, frames);
    const energy = kernels().energy(at, frames);
    const begun = this.filled > 0;
    this.lows[c] = begun ? Math.min(this.lows[c], low) : low;
    this.highs[c] = begun ? Math.max(this.highs[c], high) : high;
    this.energies[c] = begun ? this.energies[c] + energy : energy;
  }

  private endColumn(): void {
    for (let c = 0; c < this.base.length; c++) {
      if (this.columns === this.base[c].low.length) this.base[c] = grown(this.base[c]);
      const { low, high, rms } = this.base[c];
      low[this.columns] = toInteger(this.lows[c]);
      high[this.columns] = toInteger(this.highs[c]);
      rms[this.columns] = toInteger(Math.sqrt(this.energies[c] / this.filled));
    }
    this.columns++;
    this.filled = 0;
  }
}

function coarser({ framesPerColumn, columns, channels }: PyramidLevel): PyramidLevel {
  const count = Math.ceil(columns / FACTOR);
  return {
    framesPerColumn: framesPerColumn * FACTOR,
    columns: count,
    channels: channels.map((fine) => {
      const coarse = emptyChannel(count);
      for (let i = 0; i < count; i++) {
        const summary = summarise(fine, i * FACTOR, Math.min(columns, (i + 1) * FACTOR));
        coarse.low[i] = summary.low;
        coarse.high[i] = summary.high;
        coarse.rms[i] = Math.round(summary.rms);
      }
      return coarse;
    }),
  };
}

/** Smallest, largest and RMS over columns from `start` to `end`. */
export function summarise(
  { low, high, rms }: PyramidChannel,
  start: number,
  end: number,
): { low: number; high: number; rms: number } {
  let least = low[start];
  let most = high[start];
  let square = 0;
  for (let i = start; i < end; i++) {
    if (low[i] < least) least = low[i];
    if (high[i] > most) most = high[i];
    square += rms[i] * rms[i];
  }
  return { low: least, high: most, rms: Math.sqrt(square / (end - start)) };
}

/** What a full-scale sample is in a pyramid. */
export const PYRAMID_FULL_SCALE = SCALE;
