import { Random } from '../signal/random.ts';
import { type Block, framesOf } from '../signal/signal.ts';

const MOST_GRAIN_SECONDS = 0.5;
const SEED = 0x746f6e65;

/**
 * Any length of a room's own sound from a few stretches of it: grains from chance places, half overlapping under sine windows, whose
 * squares add up to one. So the level is the room's, there is no seam, and nothing comes round again at an even pace.
 * @param stretches each at least two frames long; all channels of a grain come from the same place
 */
export function roomToneFill(
  stretches: readonly Block[],
  frames: number,
  channels: number,
  sampleRateHz: number,
): Block {
  const fill = Array.from({ length: channels }, () => new Float32Array(frames));
  if (!stretches.length || !frames) return fill;
  const random = new Random(SEED);
  const longest = Math.max(...stretches.map(framesOf));
  // a grain half as long as the longest stretch still has places to choose from
  const half = Math.max(1, Math.floor(Math.min(MOST_GRAIN_SECONDS * sampleRateHz, longest / 2) / 2));
  const usable = stretches.filter((stretch) => framesOf(stretch) >= 2 * half);
  for (let start = -half; start < frames; start += half) {
    const stretch = usable[Math.floor(random.next() * usable.length)];
    const from = Math.floor(random.next() * (framesOf(stretch) - 2 * half + 1));
    for (let c = 0; c < channels; c++) {
      const out = fill[c];
      const tone = stretch[c];
      for (let i = Math.max(0, -start); i < Math.min(2 * half, frames - start); i++)
        out[start + i] += Math.sin((Math.PI * (i + 0.5)) / (2 * half)) * tone[from + i];
    }
  }
  return fill;
}
