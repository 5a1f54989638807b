import type { Command } from './cpu.ts';

/** One thing that is timed: ours against a peer that does the same work, in the same run on the same machine. */
export interface Suite {
  name: string;
  /** What both are given, in a few words. */
  work: string;
  ours: Contestant;
  peer: Contestant;
}

interface Contestant {
  name: string;
  /** Run one after the other; their times are added. */
  commands: readonly Command[];
}

/** Ours is the command as people run it, start-up included. */
export const tonos = (...args: string[]): Command => [
  process.execPath,
  new URL('../../cli/bin/tonos.mjs', import.meta.url).pathname,
  ...args,
];
