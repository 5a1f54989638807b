import type { Block } from '../signal/signal.ts';
import type { Section } from './section.ts';

/** State below this is silence: cleared once a block, so that denormals never slow the loop. */
const SILENCE = 1e-25;

/** Direct form 1 over one channel in place; state = [x1, x2, y1, y2]. Brackets fix the order of additions. */
function runSection(samples: Float64Array, frames: number, section: Section, state: Float64Array): void {
  const [b0, b1, b2, a1, a2] = section;
  let x1 = state[0];
  let x2 = state[1];
  let y1 = state[2];
  let y2 = state[3];
  for (let i = 0; i < frames; i++) {
    const x = samples[i];
    const y = b0 * x + (b1 * x1 + b2 * x2) - (a1 * y1 + a2 * y2);
    x2 = x1;
    x1 = x;
    y2 = y1;
    y1 = y;
    samples[i] = y;
  }
  state[0] = x1;
  state[1] = x2;
  state[2] = Math.abs(y1) < SILENCE ? 0 : y1;
  state[3] = Math.abs(y2) < SILENCE ? 0 : y2;
}

const CHUNK = 1024;

/** Second-order sections in series over every channel, in double precision between them. */
export class FilterCascade {
  private readonly states: Float64Array[][];
  private readonly work = new Float64Array(CHUNK);

  constructor(
    private readonly sections: readonly Section[],
    channels: number,
  ) {
    this.states = Array.from({ length: channels }, () => sections.map(() => new Float64Array(4)));
  }

  process(block: Block): void {
    for (let c = 0; c < block.length; c++) {
      const channel = block[c];
      for (let start = 0; start < channel.length; start += CHUNK) {
        const frames = Math.min(CHUNK, channel.length - start);
        for (let i = 0; i < frames; i++) this.work[i] = channel[start + i];
        for (let s = 0; s < this.sections.length; s++) {
          runSection(this.work, frames, this.sections[s], this.states[c][s]);
        }
        for (let i = 0; i < frames; i++) channel[start + i] = this.work[i];
      }
    }
  }
}
