import { held, kernels, MOST_FRAMES, once, roomFor } from '@tonos/kernels';
import { type Block, framesOf, sliceBlock } from '../signal/signal.ts';
import { CONTROL_FRAMES } from './control-steps.ts';

const room = once(() => {
  const steps = MOST_FRAMES / CONTROL_FRAMES;
  return { sums: roomFor(steps), peaks: roomFor(steps) };
});

/** The power of linked channels by control steps. */
export class StepPower {
  private readonly room = { meanSquares: new Float32Array(0), largest: new Float32Array(0) };
  private count = 0;
  /** Samples of a step that has not ended, by channel. */
  private readonly begun: Float32Array[] = [];
  private phase = 0;

  /** Mean square over the channels and largest square of the steps that end in this block; good until the next one. */
  hear(block: Block): { meanSquares: Float32Array; largest: Float32Array } {
    const frames = framesOf(block);
    const most = Math.ceil(frames / CONTROL_FRAMES) + 1;
    if (this.room.largest.length < most) {
      this.room.meanSquares = new Float32Array(most);
      this.room.largest = new Float32Array(most);
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
    return {
      meanSquares: this.room.meanSquares.subarray(0, this.count),
      largest: this.room.largest.subarray(0, this.count),
    };
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
    const share = 1 / (block.length * CONTROL_FRAMES);
    for (const channel of block) kernel.squaresOfGroups(held(channel), steps, share, sums, peaks);
    const { meanSquares, largest } = this.room;
    meanSquares.set(kernel.f32.subarray(s, s + steps), this.count);
    largest.set(kernel.f32.subarray(p, p + steps), this.count);
    this.count += steps;
  }
}
