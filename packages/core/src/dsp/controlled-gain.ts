import { type Block, framesOf } from '../signal/signal.ts';

/** Frames of a control step. */
export const CONTROL_FRAMES = 8;

/**
 * A gain that is computed anew every 8 frames and moves on straight lines between: what is costly to compute, without steps. Control steps are
 * counted from the signal's start, so that it does not matter where blocks are cut.
 */
export class ControlledGain {
  private phase = 0;
  private slope = 0;
  private held = new Float32Array(0);

  constructor(private value: number) {}

  /**
   * The gain of each of `frames` frames; the array is good until the next call.
   * @param aim where the gain shall be after the next 8 frames
   * @param hear takes the frames from..to of the block; `isEnd` where a control step ends with them
   */
  over(frames: number, aim: () => number, hear?: (from: number, to: number, isEnd: boolean) => void): Float32Array {
    if (this.held.length < frames) this.held = new Float32Array(frames);
    const { held } = this;
    for (let from = 0; from < frames; ) {
      if (this.phase === 0) this.slope = (aim() - this.value) / CONTROL_FRAMES;
      const to = Math.min(frames, from + CONTROL_FRAMES - this.phase);
      this.phase = (this.phase + to - from) % CONTROL_FRAMES;
      hear?.(from, to, this.phase === 0);
      for (let i = from; i < to; i++) {
        this.value += this.slope;
        held[i] = this.value;
      }
      from = to;
    }
    return held;
  }
}

/** Multiplies every channel by gains, in place. */
export function amplify(block: Block, gains: Float32Array): void {
  const frames = framesOf(block);
  for (const channel of block) for (let i = 0; i < frames; i++) channel[i] *= gains[i];
}

/** The power of linked channels over a control step, gathered piece by piece. */
export class StepPower {
  private sum = 0;
  private most = 0;

  hear(block: Block, from: number, to: number): void {
    let { sum, most } = this;
    for (const channel of block) {
      for (let i = from; i < to; i++) {
        const square = channel[i] * channel[i];
        sum += square;
        if (square > most) most = square;
      }
    }
    this.sum = sum;
    this.most = most;
  }

  /** Mean square over the channels and largest square of the step that ends here. */
  end(channels: number): { meanSquare: number; largest: number } {
    const step = { meanSquare: this.sum / (channels * CONTROL_FRAMES), largest: this.most };
    this.sum = 0;
    this.most = 0;
    return step;
  }
}

/** A length in whole control steps, at least one. */
export const controlSteps = (frames: number): number => Math.max(1, Math.round(frames / CONTROL_FRAMES));
