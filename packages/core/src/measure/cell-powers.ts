import { held, kernels, once, roomFor } from '@tonos/kernels';
import type { Section } from '../dsp/section.ts';
import { subBlockStart } from './sub-blocks.ts';

/** Frames that are heard in one go; no cell is shorter than a frame. */
export const MOST_AT_ONCE = 4096;
const SECTIONS = 3;
const PASS: Section = [1, 0, 0, 0, 0];
const ORDER = 5;
/** Pairs of doubles: two of the input, two of each section, the energies of the cell that has begun. */
const STATE = 2 * (2 + 2 * SECTIONS + 1);

const room = once(() => ({
  kernel: kernels(),
  sections: roomFor(2 * 2 * ORDER * SECTIONS),
  state: roomFor(2 * STATE),
  lengths: roomFor(MOST_AT_ONCE),
  powers: roomFor(2 * 2 * MOST_AT_ONCE),
}));

/** What two filters make of one channel, as mean powers of equal cells of time. */
export class CellPowers {
  private readonly room = room();
  private readonly sections: Float64Array;
  private readonly state = new Float64Array(STATE);
  /** Whether any filter has so many sections. */
  private readonly third: boolean;
  private cell = 0;
  private cellStart = 0;
  private cellEnd: number;
  private frame = 0;

  /** @param filters each of at most three sections */
  constructor(
    filters: readonly [first: readonly Section[], second: readonly Section[]],
    private readonly rate: number,
    private readonly cellsPerSecond: number,
  ) {
    if (filters.some(({ length }) => length > SECTIONS)) throw new RangeError(`More than ${SECTIONS} sections.`);
    this.sections = Float64Array.from({ length: SECTIONS * ORDER * 2 }, (_, i) => {
      const section = filters[i % 2][Math.floor(i / 2 / ORDER)] ?? PASS;
      return section[(i >> 1) % ORDER];
    });
    this.third = filters.some(({ length }) => length === SECTIONS);
    this.cellEnd = subBlockStart(1, rate, cellsPerSecond);
  }

  /**
   * @param samples at most `MOST_AT_ONCE`
   * @returns the mean powers of every cell that ends with them, the first filter's and the second's by turns; good until the next call of any
   */
  hear(samples: Float32Array): Float64Array {
    const { kernel, sections, state, lengths, powers } = this.room;
    const { f64, i32 } = kernel;
    const { rate, cellsPerSecond } = this;
    const begun = this.frame - this.cellStart;
    const until = this.frame + samples.length;
    let cells = 0;
    for (let at = this.frame; this.cellEnd <= until; cells++) {
      i32[(lengths >> 2) + cells] = this.cellEnd - at;
      at = this.cellStart = this.cellEnd;
      this.cellEnd = subBlockStart(++this.cell + 1, rate, cellsPerSecond);
    }
    this.frame = until;
    f64.set(this.sections, sections >> 3);
    f64.set(this.state, state >> 3);
    kernel.cellPowers(held(samples), samples.length, sections, state, lengths, cells, begun, this.third, powers);
    this.state.set(f64.subarray(state >> 3, (state >> 3) + STATE));
    return f64.subarray(powers >> 3, (powers >> 3) + 2 * cells);
  }
}
