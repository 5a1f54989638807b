import type { Section } from '../../dsp/section.ts';

/** Width of a dip between its -3 dB points: room for the mains' own wandering, which grows with the harmonic. */
const widthHz = (hz: number): number => 2 + 0.004 * hz;

/**
 * A dip of `depthDb` at one frequency that leaves all others alone: poles on a circle near the unit circle, zeros on one nearer still.
 * At the middle the gain is (1 - zero radius) / (1 - pole radius).
 */
export function dipSection(hz: number, depthDb: number, sampleRateHz: number): Section {
  const pole = 1 - (Math.PI * widthHz(hz)) / sampleRateHz;
  const zero = 1 - (1 - pole) * 10 ** (-depthDb / 20);
  const cos = Math.cos((2 * Math.PI * hz) / sampleRateHz);
  const [b1, b2] = [-2 * zero * cos, zero * zero];
  const [a1, a2] = [-2 * pole * cos, pole * pole];
  // unchanged at Nyquist, where no hum is
  const gain = (1 - a1 + a2) / (1 - b1 + b2);
  return [gain, gain * b1, gain * b2, a1, a2];
}
