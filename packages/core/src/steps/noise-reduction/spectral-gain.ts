import { dbToGain, dbToPower } from '../../signal/decibels.ts';
import { logSpectralGain } from './log-spectral-gain.ts';

export interface SpectralGainSettings {
  reductionDb: number;
  marginDb: number;
  smoothing: number;
}

const DECISION = 0.98; // Ephraim and Malah's weight of the last frame, at their hop of 16 ms
const LEAST_XI = 10 ** -2.5;
const SPEECH_SNR = 10 ** 1.2;
const EXPONENT = SPEECH_SNR / (1 + SPEECH_SNR);

/**
 * The gain of every bin of one channel: decision-directed a-priori SNR, log-spectral-amplitude gain, weighed by the
 * probability that speech is there at all (Cohen 2002) and never below the floor that `reductionDb` sets. Presence is judged
 * on power smoothed over neighbours in frequency and the frame before, so that single bins of noise do not open.
 */
export class SpectralGain {
  private readonly previous: Float64Array; // gain^2 gamma of the frame before
  private readonly lastPower: Float64Array;
  private readonly presence: Float64Array;
  readonly gains: Float64Array;
  private readonly decision: number;
  private readonly fall: number;

  constructor(
    private readonly bins: number,
    hopSeconds: number,
  ) {
    this.previous = new Float64Array(bins);
    this.lastPower = new Float64Array(bins);
    this.presence = new Float64Array(bins);
    this.gains = new Float64Array(bins).fill(1);
    this.decision = DECISION ** (hopSeconds / 0.016);
    this.fall = hopSeconds;
  }

  /** @param power |X|^2 of the frame; @param noise |X|^2 of the noise alone */
  next(power: Float64Array, noise: ArrayLike<number>, settings: SpectralGainSettings): void {
    const { bins, previous, lastPower, presence, gains } = this;
    const margin = dbToPower(settings.marginDb);
    const floor = dbToGain(-settings.reductionDb);
    const logFloor = Math.log(floor);
    const reach = 1 + Math.round(4 * settings.smoothing);
    // gains rise at once, for onsets, and fall over up to 60 ms
    const keep = settings.smoothing > 0 ? Math.exp(-this.fall / (0.06 * settings.smoothing)) : 0;
    this.judgePresence(power, noise, margin, reach);
    for (let k = 0; k < bins; k++) {
      const lambda = noise[k] * margin + 1e-20;
      const gamma = Math.min(power[k] / lambda, 1e4);
      const instant = gamma > 1 ? gamma - 1 : 0;
      const xi = Math.max(this.decision * previous[k] + (1 - this.decision) * instant, LEAST_XI);
      const speech = Math.min(1, Math.max(logSpectralGain(xi, gamma), floor));
      previous[k] = speech * speech * gamma;
      const p = presence[k];
      const wanted = Math.exp(p * Math.log(speech) + (1 - p) * logFloor);
      gains[k] = wanted > gains[k] ? wanted : keep * gains[k] + (1 - keep) * wanted;
      lastPower[k] = power[k];
    }
  }

  private judgePresence(power: Float64Array, noise: ArrayLike<number>, margin: number, reach: number): void {
    const { bins, lastPower, presence } = this;
    let heard = 0;
    let expected = 0;
    let from = 0;
    let to = 0;
    for (let k = 0; k < bins; k++) {
      for (; to < bins && to <= k + reach; to++) {
        heard += power[to] + lastPower[to];
        expected += 2 * noise[to];
      }
      for (; from < k - reach; from++) {
        heard -= power[from] + lastPower[from];
        expected -= 2 * noise[from];
      }
      // the mean of many bins hardly strays from 1 in noise: a likelihood that counts them
      const snr = heard / (expected * margin + 1e-20);
      const strength = Math.sqrt(to - from);
      const exponent = (snr - 1) * EXPONENT * strength;
      presence[k] = exponent > 40 ? 1 : 1 / (1 + (1 + SPEECH_SNR) * Math.exp(-exponent));
    }
  }
}
