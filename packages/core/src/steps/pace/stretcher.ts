import { type Block, emptyBlock, framesOf, sliceBlock } from '../../signal/signal.ts';
import { crossfade } from '../../time/join.ts';

/** A piece of sound is moved by so much at most from where the new pace wants it: half a period of a deep voice. */
const REACH_SECONDS = 0.007;
const HOP_SECONDS = 0.01;
/** Of the reach: while what follows by itself is no further off, it stays. */
const NEAR = 0.6;
/** So much of its likeness a place at the end of the reach loses against one where the pace wants it. */
const FAR_COSTS = 0.15;
/** Fits are looked for at about this rate first. */
const COARSE_HZ = 12_000;
const SMALL_POWER = 1e-12;

/**
 * Another length at the same pitch (WSOLA: Verhelst and Roelands, 1993): pieces of 10 ms, each taken from where it goes on best from the one
 * before it. While what follows by itself is near enough to where the pace wants it, it is left as it is.
 */
export class Stretcher {
  private readonly hop: number;
  private readonly reach: number;
  private readonly coarse: number;
  private held: Block;
  /** Frame of the input that `held` begins with. */
  private heldStart = 0;
  private heard = 0;
  private pieces = 0;
  /** Frame of the input that the last piece began with. */
  private last = 0;

  /** @param ratio length out over length in */
  constructor(
    private readonly ratio: number,
    private readonly format: { sampleRateHz: number; channels: number },
  ) {
    const { sampleRateHz, channels } = format;
    this.hop = Math.max(16, Math.round(HOP_SECONDS * sampleRateHz));
    this.reach = Math.max(8, Math.round(REACH_SECONDS * sampleRateHz));
    this.coarse = Math.max(1, Math.floor(sampleRateHz / COARSE_HZ));
    this.held = emptyBlock(channels, 0);
  }

  *process(block: Block): Generator<Block> {
    this.heard += framesOf(block);
    this.hold(block);
    yield* this.made(this.heard);
  }

  /** The rest, over the end of the input into silence: at least as long as what was asked. */
  *flush(): Generator<Block> {
    const wanted = Math.ceil((this.heard * this.ratio) / this.hop);
    const missing =
      Math.max(0, Math.ceil(wanted * (this.hop / this.ratio)) - this.heard) + 2 * this.reach + 3 * this.hop;
    this.hold(emptyBlock(this.format.channels, missing));
    yield* this.made(this.heard + missing, wanted);
  }

  /** Every piece whose input, wherever in reach it begins, is there. */
  private *made(upTo: number, most = Number.POSITIVE_INFINITY): Generator<Block> {
    const { hop, reach, ratio } = this;
    while (this.pieces < most) {
      const target = Math.round((this.pieces * hop) / ratio);
      const natural = this.pieces ? this.last + hop : 0;
      if (Math.max(target + reach, natural) + hop > upTo) return;
      const isNear = Math.abs(natural - target) <= NEAR * reach;
      const start = isNear ? natural : this.bestNear(target, natural);
      const piece = this.at(start);
      yield start === natural ? piece : crossfade(this.at(natural), piece);
      this.last = start;
      this.pieces++;
      this.letGo(Math.min(start + hop, Math.round((this.pieces * hop) / ratio) - reach));
    }
  }

  /** Where in reach of a place the sound is most like what would follow by itself. */
  private bestNear(target: number, natural: number): number {
    const { coarse, reach } = this;
    const wanted = this.mono(natural, this.hop);
    const low = Math.max(0, target - reach);
    const around = this.mono(low, target + reach - low + this.hop);
    const cost = (shift: number) => 1 - (FAR_COSTS * Math.abs(low + shift - target)) / reach;
    const all = { low: 0, high: Number.POSITIVE_INFINITY };
    const at = coarse * bestFit(thinned(wanted, coarse), thinned(around, coarse), all, (k) => cost(k * coarse));
    return low + bestFit(wanted, around, { low: at - coarse, high: at + coarse }, cost);
  }

  private at(start: number): Block {
    const from = start - this.heldStart;
    return sliceBlock(this.held, from, from + this.hop);
  }

  /** All channels together: they are moved alike. */
  private mono(start: number, frames: number): Float32Array {
    const from = start - this.heldStart;
    const [first, ...rest] = this.held.map((channel) => channel.subarray(from, from + frames));
    return rest.length ? first.map((x, i) => rest.reduce((sum, channel) => sum + channel[i], x)) : first;
  }

  private hold(block: Block): void {
    const before = framesOf(this.held);
    this.held = this.held.map((channel, c) => {
      const longer = new Float32Array(before + block[c].length);
      longer.set(channel);
      longer.set(block[c], before);
      return longer;
    });
  }

  private letGo(before: number): void {
    const gone = Math.min(framesOf(this.held), Math.max(0, before - this.heldStart));
    this.held = sliceBlock(this.held, gone, framesOf(this.held));
    this.heldStart += gone;
  }
}

/** Means of so many samples each. */
function thinned(samples: Float32Array, by: number): Float32Array {
  if (by === 1) return samples;
  const means = new Float32Array(Math.floor(samples.length / by));
  for (let i = 0; i < means.length; i++) {
    let sum = 0;
    for (let k = 0; k < by; k++) sum += samples[i * by + k];
    means[i] = sum / by;
  }
  return means;
}

/** The shift in a range at which a longer signal correlates most with a shorter one, its own power counted out and what it costs. */
function bestFit(
  wanted: Float32Array,
  around: Float32Array,
  { low, high }: { low: number; high: number },
  cost: (shift: number) => number,
): number {
  let best = Math.max(0, low);
  let most = Number.NEGATIVE_INFINITY;
  for (let shift = best; shift <= Math.min(high, around.length - wanted.length); shift++) {
    let [product, power] = [0, SMALL_POWER];
    for (let i = 0; i < wanted.length; i++) {
      const x = around[shift + i];
      product += x * wanted[i];
      power += x * x;
    }
    const like = (product / Math.sqrt(power)) * (product > 0 ? cost(shift) : 1);
    if (like > most) [most, best] = [like, shift];
  }
  return best;
}
