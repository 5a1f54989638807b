import { kernels, once, roomFor } from '@tonos/kernels';
import { type Block, framesOf } from '../signal/signal.ts';
import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

const STOP_BAND_DB = 126;
/** Share of the lower Nyquist frequency that passes unchanged: 20 kHz of 22.05 kHz. */
const PASS_SHARE = 20000 / 22050;

/** Input frames that go through the kernel at a time: more than any ratio of rates between 8 and 192 kHz has taps. */
const CHUNK = 16384;
/** The kernel reads taps eight at a time. */
const UNROLLED = 8;

const room = once(() => ({
  samples: roomFor(CHUNK + UNROLLED),
  taps: roomFor(CHUNK),
  out: roomFor(CHUNK),
}));

const gcd = (a: number, b: number): number => (b ? gcd(b, a % b) : a);

interface Filter {
  up: number;
  down: number;
  /** Taps on either side of a place. */
  half: number;
  /** The taps of each phase, zeros behind. */
  phases: Float32Array[];
}

/** So many pairs of rates are remembered: who listens to a programme starts a resampler at every part. */
const MOST_KEPT = 8;
const kept = new Map<string, Filter>();

function filterOf(inRateHz: number, outRateHz: number): Filter {
  const key = `${inRateHz} ${outRateHz}`;
  const known = kept.get(key);
  if (known) return known;
  const made = design(inRateHz, outRateHz);
  if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value!);
  kept.set(key, made);
  return made;
}

function design(inRateHz: number, outRateHz: number): Filter {
  const common = gcd(inRateHz, outRateHz);
  const [up, down] = [outRateHz / common, inRateHz / common];
  const stop = Math.min(1, outRateHz / inRateHz) / 2;
  const transition = stop * (1 - PASS_SHARE);
  const half = Math.ceil((STOP_BAND_DB - 7.95) / (14.36 * transition) / 2);
  const cutoff = stop - transition / 2;
  const beta = kaiserBeta(STOP_BAND_DB);
  const phases = Array.from({ length: up }, (_, phase) => {
    const taps = Float64Array.from({ length: 2 * half }, (__, k) => {
      const x = k - (half - 1) - phase / up;
      return 2 * cutoff * sinc(2 * cutoff * x) * kaiser(x / half, beta);
    });
    const sum = taps.reduce((total, tap) => total + tap, 0);
    const padded = new Float32Array(Math.ceil(taps.length / UNROLLED) * UNROLLED);
    padded.set(taps.map((tap) => tap / sum));
    return padded;
  });
  return { up, down, half, phases };
}

/**
 * Polyphase resampler: Kaiser-windowed sinc, linear phase, centred (output frame m lies at the time of input m * in / out).
 * Flat to 0.907 of the lower Nyquist frequency; images and aliases beyond it are down by 120 dB.
 */
export class Resampler {
  private readonly up: number;
  private readonly down: number;
  private readonly half: number;
  private readonly kernel = kernels();
  private readonly phases: readonly Float32Array[];
  private held: Float32Array[];
  /** Input frame number of held[0]. */
  private heldStart: number;
  private heardFrames = 0;
  private madeFrames = 0;

  constructor(
    readonly inRateHz: number,
    readonly outRateHz: number,
    channels: number,
  ) {
    const { up, down, half, phases } = filterOf(inRateHz, outRateHz);
    this.up = up;
    this.down = down;
    this.half = half;
    this.phases = phases;
    this.heldStart = -(this.half - 1);
    this.held = Array.from({ length: channels }, () => new Float32Array(this.half - 1));
  }

  /** Input frames that must follow a place before its output is complete. */
  get reachFrames(): number {
    return this.half;
  }

  /** Takes input and gives the output that is complete by now. */
  push(block: Block): Block {
    const frames = framesOf(block);
    this.heardFrames += frames;
    this.held = this.held.map((kept, c) => {
      const joined = new Float32Array(kept.length + frames);
      joined.set(kept);
      joined.set(block[c], kept.length);
      return joined;
    });
    const lastInput = this.heldStart + this.held[0].length - 1;
    // output m needs input up to floor(m down / up) + half
    const end = Math.max(this.madeFrames, Math.ceil(((lastInput - this.half + 1) * this.up) / this.down));
    return this.make(end);
  }

  /** The rest, so that the whole is round(input frames * out / in) long. */
  flush(): Block {
    const total = Math.round((this.heardFrames * this.up) / this.down);
    const heard = this.heardFrames;
    const rest = this.push(this.held.map(() => new Float32Array(2 * this.half + this.down)));
    this.heardFrames = heard;
    const already = this.madeFrames - framesOf(rest);
    return rest.map((channel) => channel.subarray(0, Math.max(0, total - already)));
  }

  /** Outputs of one phase lie `up` apart and read the same taps at places `down` apart: each phase is one call. */
  private make(end: number): Block {
    const { up, down, half, phases, heldStart, madeFrames } = this;
    const made = this.held.map(() => new Float32Array(end - madeFrames));
    const most = Math.max(1, Math.floor(((CHUNK - phases[0].length) * up) / down));
    for (let from = madeFrames; from < end; from += most) {
      const frames = Math.min(most, end - from);
      const start = Math.floor((from * down) / up) - (half - 1);
      const length = Math.floor(((from + frames - 1) * down) / up) + half + 1 - start;
      this.held.forEach((samples, c) => {
        const stretch = samples.subarray(start - heldStart, start - heldStart + length);
        this.convolve(stretch, from, start, made[c].subarray(from - madeFrames, from - madeFrames + frames));
      });
    }
    this.madeFrames = end;
    const needFrom = Math.floor((end * down) / up) - (half - 1);
    const drop = Math.max(0, Math.min(needFrom - heldStart, this.held[0].length));
    this.held = this.held.map((samples) => samples.slice(drop));
    this.heldStart += drop;
    return made;
  }

  /** @param samples from input frame `start` on; @param out output frames from `from` on */
  private convolve(samples: Float32Array, from: number, start: number, out: Float32Array): void {
    const { kernel, up, down, half, phases } = this;
    const { f32 } = kernel;
    const place = room();
    f32.set(samples, place.samples >> 2);
    for (let i = 0; i < Math.min(up, out.length); i++) {
      const position = (from + i) * down;
      const taps = phases[position % up];
      f32.set(taps, place.taps >> 2);
      const first = Math.floor(position / up) - (half - 1) - start;
      const count = Math.ceil((out.length - i) / up);
      kernel.decimate(place.samples + 4 * first, count, down, place.taps, taps.length, place.out);
      for (let k = 0; k < count; k++) out[i + k * up] = f32[(place.out >> 2) + k];
    }
  }
}

/** A whole signal in memory at another rate. */
export function resampled(block: Block, inRateHz: number, outRateHz: number): Block {
  if (inRateHz === outRateHz) return block;
  const resampler = new Resampler(inRateHz, outRateHz, block.length);
  const [begin, rest] = [resampler.push(block), resampler.flush()];
  return begin.map((channel, c) => {
    const whole = new Float32Array(channel.length + rest[c].length);
    whole.set(channel);
    whole.set(rest[c], channel.length);
    return whole;
  });
}
