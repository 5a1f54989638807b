import { AMPLITUDE_SECONDS } from './hum-findings.ts';
import type { LineTrack } from './mains-phase.ts';

/** What is heard of a line counts over so long a time on either side, and everywhere a little. */
const REACH_SECONDS = 6;
const EVERYWHERE = 0.02;

/**
 * A line's amplitude over time, carried over speech from both sides: means under exp(-|dt| / 6 s), each frame by how little covers
 * the line. @returns pairs of real and imaginary parts, one each 2 s
 */
export function lineAmplitudes(
  { re, im, weight: trust, harmonic }: LineTrack,
  theta: Float64Array,
  hopSeconds: number,
  response: { re: number; im: number },
): number[] {
  const frames = re.length;
  const keep = Math.exp(-hopSeconds / REACH_SECONDS);
  const sums = [0, 1, 2].map(() => new Float64Array(frames));
  const whole = [0, 0, 0];
  const values = [0, 1, 2].map(() => new Float64Array(frames));
  for (let t = 0; t < frames; t++) {
    const weight = trust[t];
    const [c, s] = [Math.cos(harmonic * theta[t]), Math.sin(harmonic * theta[t])];
    values[0][t] = weight * (re[t] * c + im[t] * s);
    values[1][t] = weight * (im[t] * c - re[t] * s);
    values[2][t] = weight;
  }
  values.forEach((value, k) => {
    let [before, after] = [0, 0];
    for (let t = 0; t < frames; t++) {
      before = keep * before + value[t];
      sums[k][t] += before;
      whole[k] += value[t];
    }
    for (let t = frames - 1; t >= 0; t--) {
      sums[k][t] += after;
      after = keep * (after + value[t]);
    }
  });
  const size = response.re ** 2 + response.im ** 2;
  const step = AMPLITUDE_SECONDS / hopSeconds;
  const out: number[] = [];
  for (let i = 0; i * step < frames + step; i++) {
    const t = Math.min(frames - 1, Math.round(i * step));
    const weight = sums[2][t] + EVERYWHERE * whole[2];
    const a = (sums[0][t] + EVERYWHERE * whole[0]) / weight;
    const b = (sums[1][t] + EVERYWHERE * whole[1]) / weight;
    out.push(short((a * response.re + b * response.im) / size), short((b * response.re - a * response.im) / size));
  }
  return out;
}

const short = (value: number): number => Number(value.toPrecision(5));
