import type { Block } from '../../signal/signal.ts';

/** Largest and smallest value that a channel's flat tops have, 1 = full scale. */
export interface Ceilings {
  high: number | null;
  low: number | null;
}

/** Two steps of 16 bits: a flat top may carry a bit of dither. */
export const FLAT = 2.2 / 32768;
export const LEAST_RUN = 3;
/** So many runs at the very top make it a ceiling. */
const LEAST_RUNS = 2;

/** Finds the ceiling at which a channel was cut: its largest value, where it stays for three samples or more, and does so again. */
export class CeilingStudy {
  private readonly sides: [high: Side, low: Side][];

  constructor(channels: number) {
    this.sides = Array.from({ length: channels }, () => [new Side(1), new Side(-1)]);
  }

  hear(block: Block): void {
    block.forEach((channel, c) => {
      for (const side of this.sides[c]) side.hear(channel);
    });
  }

  conclude(): Ceilings[] {
    return this.sides.map(([high, low]) => ({ high: high.conclude(), low: low.conclude() }));
  }
}

class Side {
  private top = 0;
  private run = 0;
  private runs = 0;

  constructor(private readonly sign: 1 | -1) {}

  hear(channel: Float32Array): void {
    for (let i = 0; i < channel.length; i++) {
      const x = this.sign * channel[i];
      if (x > this.top + FLAT) {
        // a new height: what was flat below it was no ceiling
        this.top = x;
        this.runs = 0;
        this.run = 1;
      } else if (x >= this.top - FLAT && x > 0.05) {
        if (x > this.top) this.top = x;
        if (++this.run === LEAST_RUN) this.runs++;
      } else this.run = 0;
    }
  }

  conclude(): number | null {
    return this.runs >= LEAST_RUNS ? this.sign * this.top : null;
  }
}
