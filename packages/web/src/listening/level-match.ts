import type { Listened, Side } from './listening-slice.ts';

/**
 * Gain in dB at which a side is played so that both are equally loud: the louder one is turned down to the quieter, since
 * turning up could clip. 0 where there is nothing to compare.
 */
export function matchGainDb({ source, result }: Listened, side: Side): number {
  if (!result || source.loudnessLufs === null || result.loudnessLufs === null) return 0;
  const own = (side === 'source' ? source : result).loudnessLufs!;
  return Math.min(source.loudnessLufs, result.loudnessLufs) - own || 0;
}
