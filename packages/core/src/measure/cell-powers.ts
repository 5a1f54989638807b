import { held, kernels, once, roomFor } from '@tonos/kernels';
import type { Section } from '../dsp/section.ts';
import { type Block, framesOf } from '../signal/signal.ts';
import { subBlockStart } from './sub-blocks.ts';

/** Frames that are heard in one go; no cell is shorter than a frame. */
export const MOST_AT_ONCE = 4096;
const MOST_SECTIONS = 6;
const PASS: Section = [1, 0, 0, 0, 0];
const ORDER = 5;
/** Of a channel, in doubles: pairs of two inputs and two outputs of each section, and of the energies of the cell that has begun. */
const stateOf = (sections: number): number => 2 * (4 * sections + 1);

const room = once(() => ({
  kernel: kernels(),
  coefficients: roomFor(2 * 2 * ORDER * MOST_SECTIONS),
  state: roomFor(2 * stateOf(MOST_SECTIONS)),
  lengths: roomFor(MOST_AT_ONCE),
  work: roomFor(2 * 2 * MOST_AT_ONCE),
  powers: roomFor(2 * 2 * MOST_AT_ONCE),
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

  /** @param filters each of at most six sections */
  constructor(
    filters: readonly [first: readonly Section[], second: readonly Section[]],
    channels: number,
    private readonly rate: number,
    private readonly cellsPerSecond: number,
  ) {
    const most = Math.max(...filters.map(({ length }) => length));
    if (most > MOST_SECTIONS) throw new RangeError(`More than ${MOST_SECTIONS} sections.`);
    // the kernel goes through two at a time
    this.sections = most + (most % 2);
    this.coefficients = Float64Array.from({ length: this.sections * ORDER * 2 }, (_, i) => {
      const section = filters[i % 2][Math.floor(i / 2 / ORDER)] ?? PASS;
      return section[(i >> 1) % ORDER];
    });
    this.states = Array.from({ length: channels }, () => new Float64Array(stateOf(this.sections)));
    this.cellEnd = subBlockStart(1, rate, cellsPerSecond);
  }

  /**
   * @param block at most `MOST_AT_ONCE` frames
   * @returns of each channel the mean powers of every cell that ends with them, the first filter's and the second's by turns
   */
  hear(block: Block): Float64Array[] {
    const { kernel, coefficients, state, lengths, work, powers } = this.room;
    const { rate, cellsPerSecond, sections } = this;
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
    const found = block.map(() => new Float64Array(2 * cells));
    for (let c = 0; c < block.length; c++) {
      const [own, samples] = [this.states[c], block[c]];
      kernel.f64.set(own, state >> 3);
      const { length } = samples;
      kernel.cellPowers(held(samples), length, sections, coefficients, state, lengths, cells, begun, work, powers);
      own.set(kernel.f64.subarray(state >> 3, (state >> 3) + own.length));
      found[c].set(kernel.f64.subarray(powers >> 3, (powers >> 3) + 2 * cells));
    }
    return found;
  }
}
