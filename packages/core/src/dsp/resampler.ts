import { type Block, framesOf } from '../signal/signal.ts';
import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

const STOP_BAND_DB = 126;
/** Share of the lower Nyquist frequency that passes unchanged: 20 kHz of 22.05 kHz. */
const PASS_SHARE = 20000 / 22050;

const gcd = (a: number, b: number): number => (b ? gcd(b, a % b) : a);

/**
 * Polyphase resampler: Kaiser-windowed sinc, linear phase, centred (output frame m lies at the time of input m * in / out).
 * Flat to 0.907 of the lower Nyquist frequency; images and aliases beyond it are down by 120 dB.
 */
export class Resampler {
  private readonly up: number;
  private readonly down: number;
  private readonly half: number;
  private readonly phases: Float64Array[];
  private held: Float64Array[];
  /** Input frame number of held[0]. */
  private heldStart: number;
  private heardFrames = 0;
  private madeFrames = 0;

  constructor(
    readonly inRateHz: number,
    readonly outRateHz: number,
    channels: number,
  ) {
    const common = gcd(inRateHz, outRateHz);
    this.up = outRateHz / common;
    this.down = inRateHz / common;
    const stop = Math.min(1, outRateHz / inRateHz) / 2;
    const transition = stop * (1 - PASS_SHARE);
    this.half = Math.ceil((STOP_BAND_DB - 7.95) / (14.36 * transition) / 2);
    const cutoff = stop - transition / 2;
    const beta = kaiserBeta(STOP_BAND_DB);
    this.phases = Array.from({ length: this.up }, (_, phase) => {
      const taps = Float64Array.from({ length: 2 * this.half }, (__, k) => {
        const x = k - (this.half - 1) - phase / this.up;
        return 2 * cutoff * sinc(2 * cutoff * x) * kaiser(x / this.half, beta);
      });
      const sum = taps.reduce((total, tap) => total + tap, 0);
      return taps.map((tap) => tap / sum);
    });
    this.heldStart = -(this.half - 1);
    this.held = Array.from({ length: channels }, () => new Float64Array(this.half - 1));
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
      const joined = new Float64Array(kept.length + frames);
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

  private make(end: number): Block {
    const { up, down, half, phases, held, heldStart, madeFrames } = this;
    const frames = end - madeFrames;
    const made = held.map((samples) => {
      const out = new Float32Array(frames);
      for (let i = 0; i < frames; i++) {
        const position = (madeFrames + i) * down;
        const taps = phases[position % up];
        const first = Math.floor(position / up) - (half - 1) - heldStart;
        let even = 0;
        let odd = 0;
        for (let k = 0; k < taps.length; k += 2) {
          even += taps[k] * samples[first + k];
          odd += taps[k + 1] * samples[first + k + 1];
        }
        out[i] = even + odd;
      }
      return out;
    });
    this.madeFrames = end;
    const needFrom = Math.floor((end * down) / up) - (half - 1);
    const drop = Math.max(0, Math.min(needFrom - heldStart, held[0].length));
    this.held = held.map((samples) => samples.slice(drop));
    this.heldStart += drop;
    return made;
  }
}
