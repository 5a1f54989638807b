import { kernels, RealFft } from '@tonos/kernels';
import {
  AHEAD_MS,
  ClickPowers,
  MOST_SCANNED,
  type MouthClick,
  MouthClickScan,
} from '../../measure/clicks/mouth-click-scan.ts';
import { millisecondsToFrames } from '../../signal/signal.ts';

const TRANSFORM_SECONDS = 0.0058;
/** Spectra on either side whose mean a click is brought down to. */
const AROUND = 5;
const MARGIN_MS = 1.5;
const FADE_MS = 0.8;
/** Power over what is expected that is left alone. */
const SPARED = 10 ** 0.3;
/** Lower sound is taken only where it came with the click: the thump of a p is no part of it. */
const LOW_HZ = 1000;
/** Of a burst that is found, so much lies before its peak at most, filters' own delays included. */
const BACK_MS = 24;

/** Takes mouth clicks of one channel down to the spectrum around them. Output lags by `latencyFrames`. */
export class MouthRepair {
  readonly latencyFrames: number;
  private readonly powers: ClickPowers;
  private readonly scan: MouthClickScan;
  private readonly fft: RealFft;
  private readonly hop: number;
  private readonly held: Float32Array;
  private readonly margin: number;
  private readonly fade: number;
  /** Frame of the recording that `held` ends before. */
  private frame = 0;
  /** So far. */
  found = 0;

  constructor(private readonly rate: number) {
    this.powers = new ClickPowers(rate, 1);
    this.scan = new MouthClickScan(rate);
    this.fft = new RealFft(Math.max(64, 2 ** Math.round(Math.log2(TRANSFORM_SECONDS * rate))));
    this.hop = this.fft.size / 4;
    this.margin = millisecondsToFrames(MARGIN_MS, rate);
    this.fade = Math.max(1, millisecondsToFrames(FADE_MS, rate));
    this.latencyFrames = millisecondsToFrames(AHEAD_MS + BACK_MS, rate);
    this.held = new Float32Array(this.latencyFrames + this.around + MOST_SCANNED);
  }

  /** Frames on either side of a click that its repair hears. */
  private get around(): number {
    return this.margin + this.fft.size + (AROUND + 1) * this.hop;
  }

  process(channel: Float32Array, sensitivity: number): void {
    const { held, latencyFrames } = this;
    for (let start = 0; start < channel.length; start += MOST_SCANNED) {
      const piece = channel.subarray(start, start + MOST_SCANNED);
      held.copyWithin(0, piece.length);
      held.set(piece, held.length - piece.length);
      this.frame += piece.length;
      this.scan.hear(this.powers.hear([piece])[0], sensitivity, (click) => {
        this.found++;
        this.repair(click);
      });
      const out = held.length - latencyFrames - piece.length;
      piece.set(held.subarray(out, out + piece.length));
    }
  }

  private repair({ start, end, hasLow }: MouthClick): void {
    const { held, hop, fft, margin, fade, around } = this;
    const { size, bins } = fft;
    const origin = this.frame - held.length;
    const [from, to] = [start - margin - origin, end + margin - origin];
    const first = from - size - AROUND * hop;
    const last = to + AROUND * hop;
    if (first < 0 || to + size + AROUND * hop > held.length || around < 0) return;
    const count = Math.floor((last - first) / hop) + 1;
    const powers: Float32Array[] = [];
    const { f32 } = kernels();
    for (let t = 0; t < count; t++) {
      const { re, im } = fft.spectrumOf(held.subarray(first + t * hop, first + t * hop + size), 'root-hann');
      const power = new Float32Array(bins);
      for (let k = 0; k < bins; k++) power[k] = f32[(re >> 2) + k] ** 2 + f32[(im >> 2) + k] ** 2 + 1e-16;
      powers.push(power);
    }
    const before = meanLog(powers.slice(0, AROUND));
    const after = meanLog(powers.slice(-AROUND));
    const lowest = hasLow ? 0 : Math.ceil((LOW_HZ * size) / this.rate);
    const fresh = new Float32Array((count - 1) * hop + size);
    for (let t = 0; t < count; t++) {
      const share = (t + 0.5) / count;
      const { re, im } = fft.spectrumOf(held.subarray(first + t * hop, first + t * hop + size), 'root-hann');
      for (let k = lowest; k < bins; k++) {
        const target = Math.exp(before[k] + share * (after[k] - before[k]));
        if (powers[t][k] <= SPARED * target) continue;
        const gain = Math.sqrt(target / powers[t][k]);
        f32[(re >> 2) + k] *= gain;
        f32[(im >> 2) + k] *= gain;
      }
      const out = fresh.subarray(t * hop, t * hop + size);
      const room = out.slice();
      fft.addInverse(room, 'root-hann');
      out.set(room);
    }
    for (let i = from; i < to; i++) {
      const inside = Math.min(i - from + 1, to - i, fade) / fade;
      held[i] += inside * (fresh[i - first] - held[i]);
    }
  }
}

function meanLog(powers: readonly Float32Array[]): Float64Array {
  return Float64Array.from(powers[0], (_, k) => Math.log(powers.reduce((sum, one) => sum + one[k], 0) / powers.length));
}
