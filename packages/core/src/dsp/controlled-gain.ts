import { held, inPlace, kernels, MOST_FRAMES, once, roomFor } from '@tonos/kernels';
import type { Block } from '../signal/signal.ts';
import { CONTROL_FRAMES, controlSteps } from './control-steps.ts';

const room = once(() => ({ lines: roomFor(MOST_FRAMES + CONTROL_FRAMES) }));

const EASE_SECONDS = 0.02;

/**
 * A gain that is computed anew every 8 frames and moves on straight lines between: what is costly to compute, without steps. Control steps are
 * counted from the signal's start, so that it does not matter where blocks are cut.
 */
export class ControlledGain {
  private phase = 0;
  private gains = new Float32Array(0);
  /** Where it was when it began to go over to other settings, and how far that has come. */
  private eased = { from: 0, step: 0, steps: 0 };

  /** @param from where the first control step begins; @param to where it ends */
  constructor(
    private from: number,
    private to = from,
  ) {}

  /**
   * Other settings are aimed for: from here on it goes over to them on a straight line of 20 ms. An attack of a tenth of a millisecond
   * would make a click of any other threshold.
   */
  ease(sampleRateHz: number): void {
    this.eased = { from: this.to, step: 0, steps: controlSteps(EASE_SECONDS * sampleRateHz) };
  }

  /** What is aimed for, as far as it has gone over to it. */
  private easedTo(aim: number): number {
    const { eased } = this;
    if (eased.step === eased.steps) return aim;
    return eased.from + (++eased.step / eased.steps) * (aim - eased.from);
  }

  /**
   * The gain of each of `frames` frames; the array is good until the next call.
   * @param aims for each control step that ends among them, where the gain shall be when the next one ends
   */
  over(frames: number, aims: Float32Array): Float32Array {
    if (this.gains.length < frames) this.gains = new Float32Array(frames);
    if (this.eased.step < this.eased.steps) for (let k = 0; k < aims.length; k++) aims[k] = this.easedTo(aims[k]);
    const { f32, ramps } = kernels();
    const { lines } = room();
    for (let start = 0, step = 0; start < frames; start += MOST_FRAMES) {
      const count = Math.min(MOST_FRAMES, frames - start);
      const ended = aims.subarray(step, step + Math.floor((this.phase + count) / CONTROL_FRAMES));
      ramps(held(ended), count, this.phase, this.from, this.to, lines);
      this.gains.set(f32.subarray(lines >> 2, (lines >> 2) + count), start);
      this.phase = (this.phase + count) % CONTROL_FRAMES;
      for (const aim of ended.subarray(-2)) {
        this.from = this.to;
        this.to = aim;
      }
      step += ended.length;
    }
    return this.gains;
  }
}

/** Multiplies every channel by gains, in place. */
export function amplify(block: Block, gains: Float32Array): void {
  for (const channel of block) inPlace(channel, [gains], (count, at, factors) => kernels().amplify(at, factors, count));
}
