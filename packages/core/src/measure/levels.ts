import { held, kernels, MOST_FRAMES, once, roomFor } from '@tonos/kernels';
import { cut } from '../signal/memory.ts';
import { type Block, framesOf } from '../signal/signal.ts';

export interface LevelFigures {
  samplePeak: number;
  /** Mean square of all samples of all channels. */
  meanSquare: number;
  frames: number;
  /** Stereo only: normalised cross-product, and the power of left over right. */
  correlation: number | null;
  balance: number | null;
  channelMeanSquares: number[];
}

/** Where the kernel leaves what it found. */
const room = once(() => ({ found: roomFor(6) }));

/** Peak, RMS and, for stereo, correlation and balance. */
export class LevelMeter {
  private peak = 0;
  private frames = 0;
  private cross = 0;
  private readonly squares: Float64Array;

  constructor(private readonly channels: number) {
    this.squares = new Float64Array(channels);
  }

  hear(block: Block): void {
    const kernel = kernels();
    const { found } = room();
    for (const piece of cut(block, MOST_FRAMES)) {
      const frames = framesOf(piece);
      const places = piece.map((channel, c) => held(channel, c));
      places.forEach((at, c) => {
        kernel.levels(at, frames, found);
        const [, square, peak] = kernel.f64.subarray(found >> 3, (found >> 3) + 3);
        this.peak = Math.max(this.peak, peak);
        this.squares[c] += square;
      });
      if (places.length === 2) this.cross += kernel.product(places[0], places[1], frames);
      this.frames += frames;
    }
  }

  conclude(): LevelFigures {
    const { frames, channels, squares } = this;
    const per = Math.max(1, frames);
    const both = channels === 2 ? Math.sqrt(squares[0] * squares[1]) : 0;
    return {
      samplePeak: this.peak,
      meanSquare: squares.reduce((sum, square) => sum + square, 0) / (per * channels),
      frames,
      correlation: both > 0 ? this.cross / both : null,
      balance: both > 0 ? squares[0] / squares[1] : null,
      channelMeanSquares: Array.from(squares, (square) => square / per),
    };
  }
}
