import { powerToDb } from '../../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { subBlockStart } from '../sub-blocks.ts';

/** Levels are kept for every 5 ms. */
export const FINE_PER_SECOND = 200;

const STEP_DB = 0.5;
const BOTTOM_DB = -127;
/** What lies lower says nothing of where somebody speaks: rumble, a constant offset. */
const HIGH_PASS_HZ = 80;

/** The level of a signal every 5 ms, over 80 Hz, in half decibels: 0.7 MB an hour. */
export class FineLevels {
  count = 0;
  private levels = new Uint8Array(1 << 14);
  private readonly pole: number;
  /** Input and output of the last frame, of each channel and each of two filters in series. */
  private readonly held: Float64Array;
  private power = 0;
  private frame = 0;
  private nextEnd: number;

  constructor(private readonly format: SignalFormat) {
    this.pole = Math.exp((-2 * Math.PI * HIGH_PASS_HZ) / format.sampleRateHz);
    this.held = new Float64Array(format.channels * 4);
    this.nextEnd = this.endOf(0);
  }

  hear(block: Block): void {
    const frames = framesOf(block);
    for (let start = 0; start < frames; ) {
      const end = Math.min(frames, start + this.nextEnd - this.frame);
      block.forEach((channel, c) => {
        this.add(channel, c, start, end);
      });
      this.frame += end - start;
      start = end;
      if (this.frame === this.nextEnd) this.close();
    }
  }

  /** In dBFS; the least there is where nothing sounds. */
  levelDb(index: number): number {
    return this.levels[index] * STEP_DB + BOTTOM_DB;
  }

  private add(channel: Float32Array, c: number, start: number, end: number): void {
    const { held, pole } = this;
    const at = 4 * c;
    let [x0, y0, y1] = [held[at], held[at + 1], held[at + 2]];
    let sum = 0;
    for (let i = start; i < end; i++) {
      const x = channel[i];
      const y = pole * (y0 + x - x0);
      const z = pole * (y1 + y - y0);
      [x0, y0, y1] = [x, y, z];
      sum += z * z;
    }
    held[at] = x0;
    held[at + 1] = y0;
    held[at + 2] = y1;
    this.power += sum;
  }

  private close(): void {
    const frames = this.nextEnd - subBlockStart(this.count, this.format.sampleRateHz, FINE_PER_SECOND);
    const db = powerToDb(this.power / frames / this.format.channels + 1e-20);
    if (this.count === this.levels.length) {
      const longer = new Uint8Array(2 * this.count);
      longer.set(this.levels);
      this.levels = longer;
    }
    this.levels[this.count++] = Math.max(0, Math.min(255, Math.round((db - BOTTOM_DB) / STEP_DB)));
    this.power = 0;
    this.nextEnd = this.endOf(this.count);
  }

  private endOf(index: number): number {
    return subBlockStart(index + 1, this.format.sampleRateHz, FINE_PER_SECOND);
  }
}
