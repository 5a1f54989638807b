import { Random } from '../signal/random.ts';
import { type Block, emptyBlock, framesOf } from '../signal/signal.ts';

const MOST_GRAIN_SECONDS = 0.5;
const SEED = 0x746f6e65;

/**
 * Any length of a room's own sound from a few stretches of it: grains from chance places, half overlapping under sine windows, whose
 * squares add up to one. So the level is the room's, there is no seam, and nothing comes round again at an even pace. Silence where there
 * are no stretches.
 */
export class RoomToneFill {
  private readonly random = new Random(SEED);
  private readonly usable: readonly Block[];
  private readonly half: number;
  /** What later grains still add to: two halves. */
  private readonly overlapped: Block;
  /** Frames of the first half that were taken already. */
  private taken: number;

  /** @param stretches all channels of a grain come from the same place; those under two frames are left out */
  constructor(
    stretches: readonly Block[],
    private readonly channels: number,
    sampleRateHz: number,
  ) {
    const long = stretches.filter((stretch) => framesOf(stretch) >= 2);
    const longest = Math.max(0, ...long.map(framesOf));
    // a grain half as long as the longest stretch still has places to choose from
    this.half = Math.max(1, Math.floor(Math.min(MOST_GRAIN_SECONDS * sampleRateHz, longest / 2) / 2));
    this.usable = long.filter((stretch) => framesOf(stretch) >= 2 * this.half);
    this.overlapped = emptyBlock(channels, 2 * this.half);
    // the first grain begins half before the first frame, so that two lie under it
    this.taken = this.half;
    this.addGrain();
  }

  /** The next frames of it. */
  take(frames: number): Block {
    const out = emptyBlock(this.channels, frames);
    if (!this.usable.length) return out;
    for (let at = 0; at < frames; ) {
      if (this.taken === this.half) this.turn();
      const count = Math.min(frames - at, this.half - this.taken);
      for (let c = 0; c < this.channels; c++)
        out[c].set(this.overlapped[c].subarray(this.taken, this.taken + count), at);
      this.taken += count;
      at += count;
    }
    return out;
  }

  /** The first half is done with; a new grain begins where the second one lay. */
  private turn(): void {
    for (const channel of this.overlapped) {
      channel.copyWithin(0, this.half);
      channel.fill(0, this.half);
    }
    this.taken = 0;
    this.addGrain();
  }

  private addGrain(): void {
    if (!this.usable.length) return;
    const { half, random, usable } = this;
    const stretch = usable[Math.floor(random.next() * usable.length)];
    const from = Math.floor(random.next() * (framesOf(stretch) - 2 * half + 1));
    for (let c = 0; c < this.channels; c++)
      for (let i = 0; i < 2 * half; i++)
        this.overlapped[c][i] += Math.sin((Math.PI * (i + 0.5)) / (2 * half)) * stretch[c][from + i];
  }
}

/** A whole fill. */
export const roomToneFill = (
  stretches: readonly Block[],
  frames: number,
  channels: number,
  sampleRateHz: number,
): Block => new RoomToneFill(stretches, channels, sampleRateHz).take(frames);
