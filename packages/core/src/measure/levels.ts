import { type Block, framesOf } from '../signal/signal.ts';

export interface LevelFigures {
  samplePeak: number;
  /** Mean square of all samples of all channels. */
  meanSquare: number;
  /** Mean of the channel that is furthest from zero. */
  dcOffset: number;
  frames: number;
  /** Stereo only: normalised cross-product, and the power of left over right. */
  correlation: number | null;
  balance: number | null;
  channelMeanSquares: number[];
}

/** Peak, RMS, DC and, for stereo, correlation and balance. */
export class LevelMeter {
  private peak = 0;
  private frames = 0;
  private cross = 0;
  private readonly sums: Float64Array;
  private readonly squares: Float64Array;

  constructor(private readonly channels: number) {
    this.sums = new Float64Array(channels);
    this.squares = new Float64Array(channels);
  }

  hear(block: Block): void {
    const frames = framesOf(block);
    for (let c = 0; c < block.length; c++) {
      const samples = block[c];
      let sum = 0;
      let square = 0;
      let peak = this.peak;
      for (let i = 0; i < frames; i++) {
        const x = samples[i];
        sum += x;
        square += x * x;
        const size = x < 0 ? -x : x;
        if (size > peak) peak = size;
      }
      this.peak = peak;
      this.sums[c] += sum;
      this.squares[c] += square;
    }
    if (block.length === 2) {
      const [left, right] = block;
      let cross = 0;
      for (let i = 0; i < frames; i++) cross += left[i] * right[i];
      this.cross += cross;
    }
    this.frames += frames;
  }

  conclude(): LevelFigures {
    const { frames, channels, squares } = this;
    const per = Math.max(1, frames);
    const dc = Array.from(this.sums, (sum) => sum / per);
    const both = channels === 2 ? Math.sqrt(squares[0] * squares[1]) : 0;
    return {
      samplePeak: this.peak,
      meanSquare: squares.reduce((sum, square) => sum + square, 0) / (per * channels),
      dcOffset: dc.reduce((worst, value) => (Math.abs(value) > Math.abs(worst) ? value : worst), 0),
      frames,
      correlation: both > 0 ? this.cross / both : null,
      balance: both > 0 ? squares[0] / squares[1] : null,
      channelMeanSquares: Array.from(squares, (square) => square / per),
    };
  }
}
