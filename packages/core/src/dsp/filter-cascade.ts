import { inPlace, kernels, MOST_FRAMES, once, roomFor } from '@tonos/kernels';
import type { Block } from '../signal/signal.ts';
import type { Section } from './section.ts';

/** The kernel takes four sections at a time; those that are missing pass all unchanged. */
const QUAD = 4;
const PASS: Section = [1, 0, 0, 0, 0];
const STATE = 4;
const MOST_SECTIONS = 256;

const room = once(() => ({
  sections: roomFor(2 * 5 * MOST_SECTIONS),
  states: roomFor(2 * STATE * MOST_SECTIONS),
  work: roomFor(2 * MOST_FRAMES),
}));

/** Second-order sections in series over every channel, direct form 1 in double precision between them. */
export class FilterCascade {
  private readonly kernel = kernels();
  private readonly quads: number;
  private readonly coefficients: Float64Array;
  private readonly states: Float64Array[];

  /** @param sections at most 256 */
  constructor(sections: readonly Section[], channels: number) {
    this.quads = Math.ceil(sections.length / QUAD);
    const padding = new Array<Section>(this.quads * QUAD - sections.length).fill(PASS);
    this.coefficients = Float64Array.from([...sections, ...padding].flat());
    this.states = Array.from({ length: channels }, () => new Float64Array(this.quads * QUAD * STATE));
  }

  process(block: Block): void {
    const { kernel, quads } = this;
    const { sections, states, work } = room();
    kernel.f64.set(this.coefficients, sections >> 3);
    block.forEach((channel, c) => {
      const state = this.states[c];
      kernel.f64.set(state, states >> 3);
      inPlace(channel, [], (count, at) => kernel.cascade(at, count, quads, sections, states, work));
      state.set(kernel.f64.subarray(states >> 3, (states >> 3) + state.length));
    });
  }
}
