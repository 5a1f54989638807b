import type { Block } from '@tonos/core';

const HALF_POWER = Math.SQRT1_2;

/**
 * Shares of each channel in left and right, in the order of WAVE files: the centre and the surrounds 3 dB down (ITU-R BS.775), LFE
 * left out.
 */
const SHARES: Readonly<Record<number, readonly (readonly [number, number])[]>> = {
  3: [
    [1, 0],
    [0, 1],
    [HALF_POWER, HALF_POWER],
  ],
  4: [
    [1, 0],
    [0, 1],
    [HALF_POWER, 0],
    [0, HALF_POWER],
  ],
  5: [
    [1, 0],
    [0, 1],
    [HALF_POWER, HALF_POWER],
    [HALF_POWER, 0],
    [0, HALF_POWER],
  ],
  6: [
    [1, 0],
    [0, 1],
    [HALF_POWER, HALF_POWER],
    [0, 0],
    [HALF_POWER, 0],
    [0, HALF_POWER],
  ],
  7: [
    [1, 0],
    [0, 1],
    [HALF_POWER, HALF_POWER],
    [0, 0],
    [0.5, 0.5],
    [HALF_POWER, 0],
    [0, HALF_POWER],
  ],
  8: [
    [1, 0],
    [0, 1],
    [HALF_POWER, HALF_POWER],
    [0, 0],
    [HALF_POWER, 0],
    [0, HALF_POWER],
    [HALF_POWER, 0],
    [0, HALF_POWER],
  ],
};

/** Any layout for two ears. More than two channels are turned down so far that they can't clip together. */
export function toStereo(block: Block): [left: Float32Array, right: Float32Array] {
  if (block.length <= 2) return [block[0], block[block.length - 1]];
  const shares = SHARES[block.length];
  const turnedDown = 1 / shares.reduce((sum, [left]) => sum + left, 0);
  const mixed = ([0, 1] as const).map((side) => {
    const out = new Float32Array(block[0].length);
    block.forEach((channel, c) => {
      const gain = shares[c][side] * turnedDown;
      if (gain) for (let i = 0; i < out.length; i++) out[i] += gain * channel[i];
    });
    return out;
  });
  return [mixed[0], mixed[1]];
}
