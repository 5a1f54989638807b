import { type Listened, liveOf, type Side } from './listening-slice.ts';

/**
 * Gain in dB at which a side is played so that all are equally loud: louder ones are turned down to the quietest, since turning
 * up could clip. 0 where there is nothing to compare. What a step takes away is heard as it is.
 */
export function matchGainDb(listened: Listened, side: Side): number {
  if (side === 'removed') return 0;
  const { source, result, chain } = listened;
  const own = chain ? chainLufs(listened, side) : (side === 'source' ? source : result)?.loudnessLufs;
  const others = chain
    ? (['source', 'so-far', 'chain'] as const).map((one) => chainLufs(listened, one))
    : [source.loudnessLufs, result?.loudnessLufs];
  if (typeof own !== 'number' || others.some((one) => typeof one !== 'number')) return 0;
  return Math.min(...(others as number[])) - own || 0;
}

/** What a chain makes of a recording, as loud as its ledger has it. */
function chainLufs(listened: Listened, side: Side): number | null {
  const last = liveOf(listened, side)?.steps.at(-1);
  const { chain } = listened;
  return (last?.id === undefined ? chain?.sourceLufs : chain?.afterLufs[last.id]) ?? null;
}
