import { type Block, emptyBlock, framesOf } from '../signal/signal.ts';
import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

const HALF = 48;
const STOP_BAND_DB = 110;
/** Of Nyquist: what lies over it is next to nothing in what a clock that is off by millionths brings down. */
const CUTOFF = 0.965;
/** Between two phases taps are on a straight line: that errs by less than 1e-5. */
const PHASES = 512;

const table = (() => {
  let made: Float32Array[] | undefined;
  return () => {
    made ??= Array.from({ length: PHASES + 1 }, (_, phase) => {
      const taps = Float64Array.from({ length: 2 * HALF }, (__, k) => {
        const x = k - (HALF - 1) - phase / PHASES;
        return CUTOFF * sinc(CUTOFF * x) * kaiser(x / HALF, kaiserBeta(STOP_BAND_DB));
      });
      const sum = taps.reduce((total, tap) => total + tap, 0);
      return Float32Array.from(taps, (tap) => tap / sum);
    });
    return made;
  };
})();

/**
 * Takes out that a recorder's clock was off: output frame m lies at input frame m x ratio, where the ratio differs from 1 by less than
 * a thousandth. Windowed sinc, linear phase, centred.
 */
export class ClockResampler {
  private held: Float32Array[];
  /** Input frame of held[0]. */
  private heldStart = -(HALF - 1);
  private heard = 0;
  private made = 0;

  /** @param ratio input frames for each output frame */
  constructor(
    private readonly ratio: number,
    channels: number,
  ) {
    this.held = Array.from({ length: channels }, () => new Float32Array(HALF - 1));
  }

  static framesOf(frames: number, ratio: number): number {
    return Math.round(frames / ratio);
  }

  /** What is complete by now. */
  push(block: Block): Block {
    this.heard += framesOf(block);
    this.hold(block);
    // output m needs input up to floor(m x ratio) + HALF
    const last = this.heldStart + this.held[0].length - 1;
    return this.make(Math.max(this.made, Math.ceil((last - HALF + 1) / this.ratio)));
  }

  /** The rest, so that the whole is round(input frames / ratio) long. */
  flush(): Block {
    this.hold(emptyBlock(this.held.length, 2 * HALF));
    return this.make(Math.max(this.made, ClockResampler.framesOf(this.heard, this.ratio)));
  }

  private hold(block: Block): void {
    this.held = this.held.map((kept, c) => {
      const joined = new Float32Array(kept.length + block[c].length);
      joined.set(kept);
      joined.set(block[c], kept.length);
      return joined;
    });
  }

  private make(end: number): Block {
    const out = emptyBlock(this.held.length, end - this.made);
    const phases = table();
    for (let m = this.made; m < end; m++) {
      const at = m * this.ratio;
      const whole = Math.floor(at);
      const turn = (at - whole) * PHASES;
      const phase = Math.floor(turn);
      const share = turn - phase;
      const [taps, next] = [phases[phase], phases[phase + 1]];
      const first = whole - (HALF - 1) - this.heldStart;
      for (let c = 0; c < out.length; c++) {
        const samples = this.held[c];
        let [a, b] = [0, 0];
        for (let k = 0; k < 2 * HALF; k++) {
          const x = samples[first + k];
          a += x * taps[k];
          b += x * next[k];
        }
        out[c][m - this.made] = a + share * (b - a);
      }
    }
    this.made = end;
    const needFrom = Math.floor(end * this.ratio) - (HALF - 1);
    const drop = Math.max(0, Math.min(needFrom - this.heldStart, this.held[0].length));
    this.held = this.held.map((samples) => samples.slice(drop));
    this.heldStart += drop;
    return out;
  }
}
