import type { Command } from './cpu.ts';

/** One thing that is timed: ours against a peer that does the same work, in the same run on the same machine. */
export interface Suite {
  name: string;
  /** What both are given, in a few words. */
  work: string;
  ours: Contestant;
  peer: Contestant;
  /** How often both take turns; a long work needs no repetition. */
  rounds: number;
  /** Where ours leaves the most memory that it held, in bytes. */
  peakFile?: string;
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

/** The same, leaving the most memory that it held in a file. */
export const tonosWatched = (peakFile: string, ...args: string[]): Command => {
  const [node, ...rest] = tonos(...args);
  const hook = `import{writeFileSync}from"node:fs";process.on("exit",()=>writeFileSync(${JSON.stringify(peakFile)},String(1024*process.resourceUsage().maxRSS)))`;
  return [node, '--import', `data:text/javascript,${encodeURIComponent(hook)}`, ...rest];
};
