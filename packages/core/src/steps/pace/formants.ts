import { kernels, RealFft, type Spectrum } from '@tonos/kernels';
import { InLine } from '../../dsp/in-line.ts';
import { Stft } from '../../dsp/stft.ts';
import { type Block, emptyBlock, framesOf } from '../../signal/signal.ts';

const FRAME_SECONDS = 0.04;
/**
 * What changes faster over frequency than this is the voice's own harmonics; the rest is the shape of its throat. Where a pitch shows, it is
 * this share of its period.
 */
const LIFTER_SECONDS = 0.0022;
const LIFTER_OF_PERIOD = 0.65;
const PERIOD_SECONDS = { least: 0.0025, most: 0.014 };
/** A pitch shows by a peak of so much in the cepstrum. */
const CLEAR_PEAK = 0.12;
const MOST_GAIN = 30;
const ROUNDS = 4;
const FLOOR = 1e-9;

/**
 * Puts the resonances of a voice back whose pitch was moved by resampling: its spectral envelope, smoothed in the cepstrum, is drawn back
 * by the same ratio (Oppenheim and Schafer). The power of every frame stays.
 */
export class FormantKeeper {
  private readonly stfts: Stft[];
  private readonly cepstrum: RealFft;
  private readonly line: InLine;
  private readonly quefrencies: number;
  private readonly logs: Float32Array;
  private readonly none: Float32Array;
  private readonly samples: Float32Array;
  private readonly smooth: Float32Array;
  private readonly odd: Float32Array;
  private readonly real: Float32Array;
  private readonly imaginary: Float32Array;
  private readonly gains: Float32Array;

  /** @param ratio by which the pitch was raised */
  constructor(
    private readonly ratio: number,
    private readonly format: { sampleRateHz: number; channels: number },
  ) {
    const { sampleRateHz, channels } = format;
    const size = 2 ** Math.round(Math.log2(FRAME_SECONDS * sampleRateHz));
    this.stfts = Array.from({ length: channels }, () => new Stft(size));
    this.cepstrum = new RealFft(size);
    this.line = new InLine(size);
    this.quefrencies = Math.round(LIFTER_SECONDS * sampleRateHz);
    const { bins } = this.cepstrum;
    this.logs = new Float32Array(bins);
    this.none = new Float32Array(bins);
    this.smooth = new Float32Array(bins);
    this.odd = new Float32Array(bins);
    this.real = new Float32Array(bins);
    this.imaginary = new Float32Array(bins);
    this.gains = new Float32Array(bins);
    this.samples = new Float32Array(size);
  }

  process(block: Block): Block {
    this.line.goesIn(framesOf(block));
    return this.advance(block);
  }

  /** What is still inside. */
  flush(): Block {
    return this.advance(emptyBlock(this.format.channels, this.line.missing + this.line.late));
  }

  private advance(block: Block): Block {
    block.forEach((channel, c) => {
      this.stfts[c].process(channel, (spectrum) => this.reshape(spectrum));
    });
    return this.line.comesOut(block);
  }

  private reshape({ re, im }: Spectrum): void {
    const { real, imaginary, gains, ratio } = this;
    const { bins } = this.cepstrum;
    const { f32 } = kernels();
    real.set(f32.subarray(re >> 2, (re >> 2) + bins));
    imaginary.set(f32.subarray(im >> 2, (im >> 2) + bins));
    const envelope = this.envelope();
    let [before, after] = [0, 0];
    for (let k = 0; k < bins; k++) {
      const at = Math.min(bins - 1, k * ratio);
      const low = Math.floor(at);
      const high = Math.min(bins - 1, low + 1);
      const wanted = envelope[low] + (at - low) * (envelope[high] - envelope[low]);
      const gain = Math.min(MOST_GAIN, Math.max(1 / MOST_GAIN, Math.exp(wanted - envelope[k])));
      const power = real[k] * real[k] + imaginary[k] * imaginary[k];
      before += power;
      after += power * gain * gain;
      gains[k] = gain;
    }
    const level = after > 0 ? Math.sqrt(before / after) : 1;
    // the transform's own room was used meanwhile: the spectrum goes back to where it was
    const room = kernels().f32;
    for (let k = 0; k < bins; k++) {
      room[(re >> 2) + k] = real[k] * gains[k] * level;
      room[(im >> 2) + k] = imaginary[k] * gains[k] * level;
    }
  }

  /**
   * The smooth part of the logarithm of the spectrum's magnitude, laid over its peaks: what is smoothed is, again and again, the higher of
   * both (the true envelope; Imai and Abe, 1979).
   */
  private envelope(): Float32Array {
    const { cepstrum, logs, none, samples, smooth, real, imaginary } = this;
    for (let k = 0; k < logs.length; k++)
      logs[k] = 0.5 * Math.log(real[k] * real[k] + imaginary[k] * imaginary[k] + FLOOR * FLOOR);
    let kept = this.quefrencies;
    for (let round = 0; round < ROUNDS; round++) {
      cepstrum.inverse(logs, none, samples);
      if (round === 0) kept = Math.round(this.periodIn(samples) * LIFTER_OF_PERIOD) || kept;
      samples.fill(0, kept + 1, samples.length - kept);
      cepstrum.forward(samples, smooth, this.odd);
      for (let k = 0; k < logs.length; k++) if (smooth[k] > logs[k]) logs[k] = smooth[k];
    }
    return smooth;
  }

  /** The period of the pitch in frames, 0 where none shows. */
  private periodIn(cepstrum: Float32Array): number {
    const { sampleRateHz } = this.format;
    const most = Math.min(cepstrum.length / 2, PERIOD_SECONDS.most * sampleRateHz);
    let [period, peak] = [0, CLEAR_PEAK];
    for (let i = Math.ceil(PERIOD_SECONDS.least * sampleRateHz); i < most; i++)
      if (cepstrum[i] > peak) [period, peak] = [i, cepstrum[i]];
    return period;
  }
}
