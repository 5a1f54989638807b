/**
 * Follows the noise while somebody speaks: the noise power of a bin is renewed by its expected value given how likely
 * speech is there. Gerkmann and Hendriks, "Unbiased MMSE-based noise power estimation with low complexity and low
 * tracking delay", IEEE Trans. ASLP 20(4), 2012.
 */
const SPEECH_SNR = 10 ** 1.5; // a-priori SNR of speech where it is present: 15 dB
const STUCK = 0.99;

export class NoiseTracker {
  readonly powers: Float64Array;
  private readonly presence: Float64Array;
  private readonly keep: number;
  private readonly keepPresence: number;
  private hops = 0;
  private readonly settleHops: number;

  constructor(bins: number, hopSeconds: number) {
    this.powers = new Float64Array(bins);
    this.presence = new Float64Array(bins);
    this.keep = Math.exp(-hopSeconds / 0.072); // 0.8 a 16 ms hop, as published
    this.keepPresence = Math.exp(-hopSeconds / 0.152); // 0.9
    this.settleHops = Math.max(1, Math.round(0.1 / hopSeconds));
  }

  /** Takes the |X|^2 of a spectrum; `powers` then holds the noise. */
  next(power: Float64Array): void {
    const { powers, presence, keep, keepPresence } = this;
    if (this.hops < this.settleHops) {
      this.hops++;
      for (let k = 0; k < power.length; k++) powers[k] += (power[k] - powers[k]) / this.hops;
      return;
    }
    for (let k = 0; k < power.length; k++) {
      const noise = powers[k] > 1e-20 ? powers[k] : 1e-20;
      const likely = 1 / (1 + (1 + SPEECH_SNR) * Math.exp((-power[k] / noise) * (SPEECH_SNR / (1 + SPEECH_SNR))));
      presence[k] = keepPresence * presence[k] + (1 - keepPresence) * likely;
      const p = presence[k] > STUCK && likely > STUCK ? STUCK : likely;
      powers[k] = keep * noise + (1 - keep) * (p * noise + (1 - p) * power[k]);
    }
  }
}
