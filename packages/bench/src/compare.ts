import { readFileSync } from 'node:fs';
import { cpuSeconds } from './cpu.ts';
import type { Suite } from './suite.ts';

export interface Comparison {
  name: string;
  work: string;
  ours: string;
  peer: string;
  /** Peer's processor time by ours, median of the rounds: above 1 we are faster. */
  ratio: number;
  /** Smallest and largest of the rounds. */
  spread: [number, number];
  peakBytes?: number;
}

/** Both take turns, so that a machine that grows busy slows both. */
export function compare({ name, work, ours, peer, rounds, peakFile }: Suite): Comparison {
  const total = ({ commands }: Suite['ours']) => commands.reduce((sum, command) => sum + cpuSeconds(command), 0);
  const ratios = Array.from({ length: rounds }, () => {
    const own = total(ours);
    return total(peer) / own;
  }).sort((a, b) => a - b);
  return {
    name,
    work,
    ours: ours.name,
    peer: peer.name,
    ratio: ratios[Math.floor(ratios.length / 2)],
    spread: [ratios[0], ratios.at(-1)!],
    ...(peakFile ? { peakBytes: Number(readFileSync(peakFile, 'utf8')) } : {}),
  };
}
