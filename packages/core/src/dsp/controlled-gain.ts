import { held, kernels, MOST_FRAMES, once, roomFor } from '@tonos/kernels';
import { type Block, framesOf, sliceBlock } from '../signal/signal.ts';

/** Frames of a control step. */
export const CONTROL_FRAMES = 8;

/** A length in whole control steps, at least one. */
export const controlSteps = (frames: number): number => Math.max(1, Math.round(frames / CONTROL_FRAMES));

const EASE_SECONDS = 0.02;

/**
 * A gain that is computed anew every 8 frames and moves on straight lines between: what is costly to compute, without steps. Control steps are
 * counted from the signal's start, so that it does not matter where blocks are cut.
 */
export class ControlledGain {
  private phase = 0;
  private slope = 0;
  private gains = new Float32Array(0);
  /** Where it was when it began to go over to other settings, and how far that has come. */
  private eased = { from: 0, step: 0, steps: 0 };

  constructor(private value: number) {}

  /**
   * Other settings are aimed for: from here on it goes over to them on a straight line of 20 ms. An attack of a tenth of a millisecond
   * would make a click of any other threshold.
   */
  ease(sampleRateHz: number): void {
    this.eased = { from: this.value, step: 0, steps: controlSteps(EASE_SECONDS * sampleRateHz) };
  }

  /** What is aimed for, as far as it has gone over to it. */
  private easedTo(aim: number): number {
    const { eased } = this;
    if (eased.step === eased.steps) return aim;
    return eased.from + (++eased.step / eased.steps) * (aim - eased.from);
  }

  /**
   * The gain of each of `frames` frames; the array is good until the next call.
   * @param aim where the gain shall be after the next 8 frames; @param ended called when a control step has ended
   */
  over(frames: number, aim: () => number, ended?: () => void): Float32Array {
    if (this.gains.length < frames) this.gains = new Float32Array(frames);
    const { gains } = this;
    let { phase, slope, value } = this;
    for (let i = 0; i < frames; ) {
      if (phase === 0) slope = (this.easedTo(aim()) - value) / CONTROL_FRAMES;
      const to = Math.min(frames, i + CONTROL_FRAMES - phase);
      phase += to - i;
      for (; i < to; i++) {
        value += slope;
        gains[i] = value;
      }
      if (phase < CONTROL_FRAMES) continue;
      phase = 0;
      ended?.();
    }
    this.phase = phase;
    this.slope = slope;
    this.value = value;
    return gains;
  }
}

/** Multiplies every channel by gains, in place. */
export function amplify(block: Block, gains: Float32Array): void {
  const frames = framesOf(block);
  for (const channel of block) for (let i = 0; i < frames; i++) channel[i] *= gains[i];
}

const room = once(() => {
  const steps = MOST_FRAMES / CONTROL_FRAMES;
  return { sums: roomFor(steps), peaks: roomFor(steps) };
});

/** The power of linked channels by control steps. */
export class StepPower {
  /** Mean square over the channels and largest square of the steps that ended in the last block. */
  meanSquares = new Float32Array(0);
  largest = new Float32Array(0);
  private count = 0;
  /** Samples of a step that has not ended, by channel. */
  private readonly begun: Float32Array[] = [];
  private phase = 0;

  hear(block: Block): void {
    const frames = framesOf(block);
    const most = Math.ceil(frames / CONTROL_FRAMES) + 1;
    if (this.largest.length < most) {
      this.meanSquares = new Float32Array(most);
      this.largest = new Float32Array(most);
    }
    this.count = 0;
    let at = Math.min(frames, (CONTROL_FRAMES - this.phase) % CONTROL_FRAMES);
    this.hearPart(block, 0, at);
    while (frames - at >= CONTROL_FRAMES) {
      const steps = Math.floor(Math.min(MOST_FRAMES, frames - at) / CONTROL_FRAMES);
      this.hearSteps(sliceBlock(block, at, at + steps * CONTROL_FRAMES), steps);
      at += steps * CONTROL_FRAMES;
    }
    this.hearPart(block, at, frames);
  }

  /** Less than a whole step: it is read when the rest has come. */
  private hearPart(block: Block, from: number, to: number): void {
    if (from === to) return;
    block.forEach((channel, c) => {
      this.begun[c] ??= new Float32Array(CONTROL_FRAMES);
      this.begun[c].set(channel.subarray(from, to), this.phase);
    });
    this.phase = (this.phase + to - from) % CONTROL_FRAMES;
    if (!this.phase) this.hearSteps(this.begun, 1);
  }

  private hearSteps(block: Block, steps: number): void {
    const kernel = kernels();
    const { sums, peaks } = room();
    const [s, p] = [sums >> 2, peaks >> 2];
    kernel.f32.fill(0, s, s + steps);
    kernel.f32.fill(0, p, p + steps);
    for (const channel of block) kernel.squaresOfGroups(held(channel), steps, sums, peaks);
    const share = 1 / (block.length * CONTROL_FRAMES);
    for (let k = 0; k < steps; k++) this.meanSquares[this.count + k] = share * kernel.f32[s + k];
    this.largest.set(kernel.f32.subarray(p, p + steps), this.count);
    this.count += steps;
  }
}
