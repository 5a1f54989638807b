import { held, kernels, once, roomFor } from '@tonos/kernels';
import type { Section } from '../dsp/section.ts';
import { type Block, framesOf } from '../signal/signal.ts';
import { subBlockStart } from './sub-blocks.ts';

/** Frames that are heard in one go; no cell is shorter than a frame. */
export const MOST_AT_ONCE = 4096;
const SECTIONS = 3;
const PASS: Section = [1, 0, 0, 0, 0];
const ORDER = 5;
/** Of a channel, in doubles: pairs of two inputs and two outputs of each section, and of the energies of the cell that has begun. */
const STATE = 2 * (4 * SECTIONS + 1);

const room = once(() => ({
  kernel: kernels(),
  coefficients: roomFor(2 * 2 * ORDER * SECTIONS),
  state: roomFor(2 * 2 * STATE),
  lengths: roomFor(MOST_AT_ONCE),
  work: roomFor(2 * 2 * 2 * MOST_AT_ONCE),
  powers: roomFor(2 * 2 * 2 * MOST_AT_ONCE),
}));

/** What two filters make of every channel, as mean powers of equal cells of time. */
export class CellPowers {
  private readonly room = room();
  private readonly sections: number;
  private readonly coefficients: Float64Array;
  private readonly states: Float64Array[];
  private cell = 0;
  private cellStart = 0;
  private cellEnd: number;
  private frame = 0;

  /** @param filters each of at most three sections */
  constructor(
    filters: readonly [first: readonly Section[], second: readonly Section[]],
    channels: number,
    private readonly rate: number,
    private readonly cellsPerSecond: number,
  ) {
    this.sections = Math.max(...filters.map(({ length }) => length));
    if (this.sections > SECTIONS) throw new RangeError(`More than ${SECTIONS} sections.`);
    this.coefficients = Float64Array.from({ length: this.sections * ORDER * 2 }, (_, i) => {
      const section = filters[i % 2][Math.floor(i / 2 / ORDER)] ?? PASS;
      return section[(i >> 1) % ORDER];
    });
    this.states = Array.from({ length: channels }, () => new Float64Array(2 * (4 * this.sections + 1)));
    this.cellEnd = subBlockStart(1, rate, cellsPerSecond);
  }

  /**
   * @param block at most `MOST_AT_ONCE` frames
   * @returns of each channel the mean powers of every cell that ends with them, the first filter's and the second's by turns
   */
  hear(block: Block): Float64Array[] {
    const { kernel, coefficients, lengths } = this.room;
    const { rate, cellsPerSecond } = this;
    const begun = this.frame - this.cellStart;
    const until = this.frame + framesOf(block);
    let cells = 0;
    for (let at = this.frame; this.cellEnd <= until; cells++) {
      kernel.i32[(lengths >> 2) + cells] = this.cellEnd - at;
      at = this.cellStart = this.cellEnd;
      this.cellEnd = subBlockStart(++this.cell + 1, rate, cellsPerSecond);
    }
    this.frame = until;
    kernel.f64.set(this.coefficients, coefficients >> 3);
    const powers = block.map(() => new Float64Array(2 * cells));
    // two channels at a time: neither waits for the other's recursion
    for (let c = 0; c < block.length; c += 2) {
      if (c + 1 < block.length) this.hearTwo(block, c, cells, begun);
      else this.hearOne(block[c], c, cells, begun);
      this.take(c, 0, powers);
      if (c + 1 < block.length) this.take(c + 1, 1, powers);
    }
    return powers;
  }

  private hearOne(samples: Float32Array, channel: number, cells: number, begun: number): void {
    const { kernel, coefficients, state, lengths, work, powers } = this.room;
    kernel.f64.set(this.states[channel], state >> 3);
    const { length } = samples;
    const at = held(samples);
    kernel.cellPowers(at, length, this.sections, coefficients, state, lengths, cells, begun, work, powers);
  }

  private hearTwo(block: Block, first: number, cells: number, begun: number): void {
    const { kernel, coefficients, state, lengths, work, powers } = this.room;
    const { sections, states } = this;
    kernel.f64.set(states[first], state >> 3);
    kernel.f64.set(states[first + 1], (state >> 3) + states[first].length);
    const { length } = block[first];
    const [left, right] = [held(block[first], 0), held(block[first + 1], 1)];
    kernel.cellPowersOfTwo(left, right, length, sections, coefficients, state, lengths, cells, begun, work, powers);
  }

  /** What the kernel left of a channel, the first or the second of those it heard. */
  private take(channel: number, place: 0 | 1, powers: readonly Float64Array[]): void {
    const { kernel, state, powers: found } = this.room;
    const own = this.states[channel];
    const stateAt = (state >> 3) + place * own.length;
    own.set(kernel.f64.subarray(stateAt, stateAt + own.length));
    const { length } = powers[channel];
    const at = (found >> 3) + place * length;
    powers[channel].set(kernel.f64.subarray(at, at + length));
  }
}
