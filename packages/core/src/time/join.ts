import { type Block, emptyBlock, framesOf } from '../signal/signal.ts';

/** Two sounds that differ by their whole are not joined as if they took each other away. */
const LEAST_LIKENESS = -0.3;
/** Fits are looked for in steps of so much. */
const FIT_STEP_HZ = 24_000;

/** Equal power: the squares of a rise and of its mirror image add up to one. */
export const rise = (share: number): number => Math.sin((Math.PI / 2) * share);

/** How alike two blocks of one length are: 1 the same, 0 nothing to do with each other. */
function likeness(a: Block, b: Block): number {
  let [ab, aa, bb] = [0, 0, 0];
  for (let c = 0; c < a.length; c++) {
    for (let i = 0; i < a[c].length; i++) {
      ab += a[c][i] * b[c][i];
      aa += a[c][i] ** 2;
      bb += b[c][i] ** 2;
    }
  }
  return aa && bb ? ab / Math.sqrt(aa * bb) : 0;
}

/**
 * From one sound to another of the same length without a dip or a swell of power, however alike they are: shares x and 1 - x over the
 * square root of x^2 + (1 - x)^2 + 2 x (1 - x) times their likeness.
 */
export function crossfade(from: Block, to: Block): Block {
  const frames = framesOf(from);
  const alike = Math.max(LEAST_LIKENESS, likeness(from, to));
  const joined = emptyBlock(from.length, frames);
  for (let i = 0; i < frames; i++) {
    const share = (i + 0.5) / frames;
    const smooth = share * share * (3 - 2 * share);
    const rest = 1 - smooth;
    const scale = 1 / Math.sqrt(smooth * smooth + rest * rest + 2 * alike * smooth * rest);
    for (let c = 0; c < from.length; c++) joined[c][i] = (rest * from[c][i] + smooth * to[c][i]) * scale;
  }
  return joined;
}

/** What begins out of nothing, or ends in it. */
export const edge = (block: Block, side: 'in' | 'out'): Block => {
  const frames = framesOf(block);
  return block.map((channel) => channel.map((x, i) => x * rise(((side === 'in' ? i : frames - 1 - i) + 0.5) / frames)));
};

/**
 * By how many frames a join goes later, so that both sides fit best: where they correlate most.
 * @param windows both of `frames + 2 * slack` frames; @returns 0 to 2 * slack
 */
export function fittingShift(
  outgoing: Block,
  incoming: Block,
  frames: number,
  slack: number,
  sampleRateHz: number,
): number {
  const step = Math.max(1, Math.round(sampleRateHz / FIT_STEP_HZ));
  let best = slack;
  let most = Number.NEGATIVE_INFINITY;
  for (let by = 0; by <= 2 * slack; by += step) {
    const within = (block: Block) => block.map((channel) => channel.subarray(by, by + frames));
    const like = likeness(within(outgoing), within(incoming));
    if (like > most) [most, best] = [like, by];
  }
  return best;
}
