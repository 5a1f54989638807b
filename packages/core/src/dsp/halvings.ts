import { HalfBandDecimator } from './half-band.ts';

/** Samples that are taken in one go. */
export const MOST_HALVED = 4096;

/** How often a rate can be halved without falling below another. */
export const halvingsTo = (sampleRateHz: number, leastHz: number): number =>
  Math.max(0, Math.floor(Math.log2(sampleRateHz / leastHz)));

/** One channel at half its rate, so many times over. */
export class Halvings {
  private readonly stages: HalfBandDecimator[];
  private readonly rooms: readonly [Float32Array, Float32Array];

  constructor(times: number) {
    this.stages = Array.from({ length: times }, () => new HalfBandDecimator());
    this.rooms = times
      ? [new Float32Array(MOST_HALVED), new Float32Array(MOST_HALVED)]
      : [new Float32Array(0), new Float32Array(0)];
  }

  /** @param samples at most 4096; @returns those that come of them, good until the next call */
  push(samples: Float32Array): Float32Array {
    let from = samples;
    for (let stage = 0; stage < this.stages.length; stage++) {
      const out = this.rooms[stage % 2];
      from = out.subarray(0, this.stages[stage].push(from, out));
    }
    return from;
  }
}
