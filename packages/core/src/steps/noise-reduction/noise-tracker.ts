import { spectrumRoom } from './spectrum-room.ts';

/**
 * Follows the noise while somebody speaks: the noise power of a bin is renewed by its expected value given how likely
 * speech is there. Gerkmann and Hendriks, "Unbiased MMSE-based noise power estimation with low complexity and low
 * tracking delay", IEEE Trans. ASLP 20(4), 2012.
 */
const SPEECH_SNR = 10 ** 1.5; // a-priori SNR of speech where it is present: 15 dB
const STUCK = 0.99;

export class NoiseTracker {
  readonly powers: Float32Array;
  private readonly room;
  private readonly presence: Float32Array;
  private readonly keep: number;
  private readonly keepPresence: number;
  private hops = 0;
  private readonly settleHops: number;

  constructor(
    private readonly bins: number,
    hopSeconds: number,
  ) {
    this.room = spectrumRoom(bins);
    this.powers = new Float32Array(bins);
    this.presence = new Float32Array(bins);
    this.keep = Math.exp(-hopSeconds / 0.072); // 0.8 a 16 ms hop, as published
    this.keepPresence = Math.exp(-hopSeconds / 0.152); // 0.9
    this.settleHops = Math.max(1, Math.round(0.1 / hopSeconds));
  }

  /** Takes the |X|^2 of a spectrum from where it lies for kernels; `powers` then holds the noise. */
  next(power: number): void {
    const { powers, presence, bins, keep, keepPresence } = this;
    const { kernel, slots } = this.room;
    if (this.hops < this.settleHops) {
      const heard = kernel.f32.subarray(power >> 2, (power >> 2) + bins);
      this.hops++;
      for (let k = 0; k < bins; k++) powers[k] += (heard[k] - powers[k]) / this.hops;
      return;
    }
    const { expected: noise, likely } = slots;
    kernel.f32.set(powers, noise >> 2);
    kernel.f32.set(presence, likely >> 2);
    kernel.trackedNoise(power, noise, likely, bins, SPEECH_SNR, keep, keepPresence, STUCK);
    powers.set(kernel.f32.subarray(noise >> 2, (noise >> 2) + bins));
    presence.set(kernel.f32.subarray(likely >> 2, (likely >> 2) + bins));
  }
}
