import type { Spectrum } from '@tonos/kernels';
import { dbToGain, dbToPower } from '../../signal/decibels.ts';
import { RISE_TABLE } from './log-spectral-gain.ts';
import { NoiseTracker } from './noise-tracker.ts';
import { spectrumRoom } from './spectrum-room.ts';

export interface SpectralGainSettings {
  reductionDb: number;
  marginDb: number;
  smoothing: number;
}

const DECISION = 0.94; // of the last frame, at a hop of 16 ms: Ephraim and Malah took 0.98, which trails behind onsets
const NO_MARGIN = 1;
const LEAST_XI = 10 ** -2.5;
const SPEECH_SNR = 10 ** 1.2;

/**
 * The gain of every bin of one channel: decision-directed a-priori SNR, log-spectral-amplitude gain, weighed by the
 * probability that speech is there at all (Cohen 2002) and never below the floor that `reductionDb` sets. Presence is judged
 * on power smoothed over neighbours in frequency and the frame before, so that single bins of noise do not open. The margin makes only that
 * judgement stricter: with it in the gain as well, speech near the noise lost another decibel (docs/noise-reduction.md).
 */
export class SpectralGain {
  private readonly room;
  private readonly previous: Float32Array; // gain^2 gamma of the frame before
  private readonly lastPower: Float32Array;
  private readonly gains: Float32Array;
  private readonly decision: number;
  private readonly fall: number;

  constructor(
    private readonly bins: number,
    hopSeconds: number,
  ) {
    this.room = spectrumRoom(bins);
    this.previous = new Float32Array(bins);
    this.lastPower = new Float32Array(bins);
    this.gains = new Float32Array(bins).fill(1);
    this.decision = DECISION ** (hopSeconds / 0.016);
    this.fall = hopSeconds;
  }

  /**
   * Multiplies a spectrum by its gains.
   * @param noise |X|^2 of the noise alone, or who follows it
   */
  apply({ re, im }: Spectrum, noise: Float32Array | NoiseTracker, settings: SpectralGainSettings): void {
    const { bins, previous, lastPower, gains } = this;
    const { kernel, slots, table } = this.room;
    const { f32 } = kernel;
    const margin = dbToPower(settings.marginDb);
    const reach = 1 + Math.round(4 * settings.smoothing);
    // gains rise at once, for onsets, and fall over up to 60 ms
    const keep = settings.smoothing > 0 ? Math.exp(-this.fall / (0.06 * settings.smoothing)) : 0;
    const floor = dbToGain(-settings.reductionDb);
    const { power, last, expected, sums, likely, before, gain } = slots;
    kernel.powers(re, im, bins, power);
    if (noise instanceof NoiseTracker) noise.next(power);
    f32.set(lastPower, last >> 2);
    f32.set(noise instanceof NoiseTracker ? noise.powers : noise, expected >> 2);
    f32.set(previous, before >> 2);
    f32.set(gains, gain >> 2);
    kernel.presence(power, last, expected, sums, bins, margin, reach, SPEECH_SNR, likely);
    const { first, perOctave, least, most } = RISE_TABLE;
    kernel.spectralGains(
      power,
      expected,
      likely,
      before,
      gain,
      bins,
      NO_MARGIN,
      floor,
      this.decision,
      LEAST_XI,
      keep,
      table,
      first,
      perOctave,
      least,
      most,
    );
    kernel.amplified(re, im, bins, gain);
    previous.set(f32.subarray(before >> 2, (before >> 2) + bins));
    gains.set(f32.subarray(gain >> 2, (gain >> 2) + bins));
    lastPower.set(f32.subarray(power >> 2, (power >> 2) + bins));
  }
}
