import type { Block } from '../signal/signal.ts';

/** How sound comes up from nothing and goes down to it. */

export const FADE_SHAPES = ['linear', 'equal-power', 's-curve'] as const;
export type FadeShape = (typeof FADE_SHAPES)[number];

/** The gain at a share of the way up. A raised cosine is the S-curve. */
const RISE: Readonly<Record<FadeShape, (share: number) => number>> = {
  linear: (share) => share,
  'equal-power': (share) => Math.sin((Math.PI / 2) * share),
  's-curve': (share) => 0.5 - 0.5 * Math.cos(Math.PI * share),
};

/** The same, anywhere: nothing before it begins, all of it once it is up. */
export const riseAt = (shape: FadeShape, share: number): number => RISE[shape](Math.max(0, Math.min(1, share)));

export interface FadeOver {
  /** Need not be whole. */
  frames: number;
  shape: FadeShape;
}

/** Fades that together are no longer than the signal: two that would meet are shortened alike. */
export function fittedFades(into: FadeOver, out: FadeOver, frames: number): [into: FadeOver, out: FadeOver] {
  const fit = Math.min(1, frames / (into.frames + out.frames || 1));
  return [
    { ...into, frames: fit * into.frames },
    { ...out, frames: fit * out.frames },
  ];
}

/**
 * Fades both ends of a signal, block by block, in place.
 * @param start the block's first frame in the signal; @param frames the signal's length, infinite where its end is not known
 */
export function applyFades(block: Block, start: number, frames: number, into: FadeOver, out: FadeOver): void {
  const [rise, fall] = [RISE[into.shape], RISE[out.shape]];
  for (const channel of block) {
    for (let i = Math.max(0, -start); i < Math.min(channel.length, into.frames - start); i++)
      channel[i] *= rise((start + i) / into.frames);
    for (let i = Math.max(0, Math.ceil(frames - out.frames - start)); i < Math.min(channel.length, frames - start); i++)
      channel[i] *= fall((frames - 1 - start - i) / out.frames);
  }
}
