import { held, kernels, MOST_FRAMES } from '@tonos/kernels';
import { cut } from './memory.ts';
import type { Block } from './signal.ts';

/** +120 dBFS: anything beyond is no sound but damage, and would overflow further on. */
const LARGEST = 1e6;

/** Replaces NaN, infinities and absurd values by silence, in place. Returns how many there were. */
export function silenceBadSamples(block: Block): number {
  let bad = 0;
  for (const piece of cut(block, MOST_FRAMES)) for (const channel of piece) bad += silenced(channel);
  return bad;
}

function silenced(channel: Float32Array): number {
  if (!kernels().hasBeyond(held(channel), channel.length, LARGEST)) return 0;
  let bad = 0;
  for (let i = 0; i < channel.length; i++) {
    const x = channel[i];
    // a comparison with NaN is false
    if (x <= LARGEST && x >= -LARGEST) continue;
    channel[i] = 0;
    bad++;
  }
  return bad;
}
