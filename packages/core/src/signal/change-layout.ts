import { type Block, framesOf, type SignalFormat, speakersOf } from './signal.ts';
import { stereoGains } from './speakers.ts';

/**
 * A block with another number of channels. Mono repeats itself; stereo becomes mono as its mean; more channels become stereo by
 * ITU-R BS.775, and mono as the mean of that. To more than two nothing is spread: what there is lies in the first ones.
 */
export function changeLayout(
  block: Block,
  format: Pick<SignalFormat, 'channels' | 'speakers'>,
  channels: number,
): Block {
  if (block.length === channels) return block;
  if (block.length === 1) return Array.from({ length: channels }, () => block[0].slice());
  if (channels > 2) {
    const silence = () => new Float32Array(framesOf(block));
    return Array.from({ length: channels }, (_, c) => block[c]?.slice() ?? silence());
  }
  const gains =
    block.length === 2
      ? ([
          [1, 0],
          [0, 1],
        ] as const)
      : stereoGains(speakersOf(format));
  const sides =
    channels === 1 ? [gains.map(([left, right]) => (left + right) / 2)] : [0, 1].map((s) => gains.map((g) => g[s]));
  return sides.map((weights) => mixed(block, weights));
}

function mixed(block: Block, weights: readonly number[]): Float32Array {
  const out = new Float32Array(framesOf(block));
  block.forEach((channel, c) => {
    const weight = weights[c];
    if (weight) for (let i = 0; i < out.length; i++) out[i] += weight * channel[i];
  });
  return out;
}
