import type { Block } from './signal.ts';

/** +120 dBFS: anything beyond is no sound but damage, and would overflow further on. */
const LARGEST = 1e6;

/** Replaces NaN, infinities and absurd values by silence, in place. Returns how many there were. */
export function silenceBadSamples(block: Block): number {
  let bad = 0;
  for (const channel of block) {
    for (let i = 0; i < channel.length; i++) {
      const x = channel[i];
      // a comparison with NaN is false
      if (!(x <= LARGEST && x >= -LARGEST)) {
        channel[i] = 0;
        bad++;
      }
    }
  }
  return bad;
}
