import { hann, RealFft } from '@tonos/core';

/** How near a signal is to the clean speech in it, as speech enhancement is judged in the literature. */

const FRAME_SECONDS = 0.03;
/** Edges of critical bands in Hz, after Zwicker. */
const BANDS_HZ = [
  50, 120, 190, 260, 330, 400, 470, 540, 617, 703, 798, 904, 1020, 1148, 1288, 1442, 1610, 1794, 1993, 2221, 2446, 2701,
  2978, 3276, 3597, 4000,
];
/** Limits of a band's signal to noise, and the power of its weight: Hu and Loizou, IEEE Trans. ASLP 16(1), 2008. */
const [LEAST_DB, MOST_DB, WEIGHT_POWER] = [-10, 35, 0.2];

function* spectra(signals: readonly Float32Array[], rate: number): Generator<Float32Array[]> {
  const frame = Math.round(FRAME_SECONDS * rate);
  const size = 2 ** Math.ceil(Math.log2(frame));
  const fft = new RealFft(size);
  const window = hann(frame);
  const [re, im] = [new Float32Array(fft.bins), new Float32Array(fft.bins)];
  for (let at = 0; at + frame <= signals[0].length; at += frame >> 2) {
    yield signals.map((signal) => {
      const samples = new Float32Array(size);
      for (let i = 0; i < frame; i++) samples[i] = signal[at + i] * window[i];
      fft.forward(samples, re, im);
      return re.map((x, k) => Math.hypot(x, im[k]) / frame);
    });
  }
}

const binOf = (hz: number, bins: number, rate: number): number => Math.round((hz * 2 * (bins - 1)) / rate);

/** Frames of speech: within 30 dB of the loudest. */
function speechFrames(clean: Float32Array, rate: number): boolean[] {
  const frame = Math.round(FRAME_SECONDS * rate);
  const powers: number[] = [];
  for (let at = 0; at + frame <= clean.length; at += frame >> 2)
    powers.push(clean.subarray(at, at + frame).reduce((sum, x) => sum + x * x, 0));
  const most = powers.reduce((a, b) => Math.max(a, b), 0);
  return powers.map((power) => power > 1e-3 * most);
}

/** Frequency-weighted segmental signal to noise ratio in dB, over frames of speech. */
export function weightedSegmentalSnr(heard: Float32Array, clean: Float32Array, rate: number): number {
  const speaks = speechFrames(clean, rate);
  let [sum, frames, index] = [0, 0, 0];
  for (const [x, y] of spectra([clean, heard], rate)) {
    if (!speaks[index++]) continue;
    let [weighed, weights] = [0, 0];
    for (let b = 0; b + 1 < BANDS_HZ.length; b++) {
      let [own, other] = [0, 0];
      const from = binOf(BANDS_HZ[b], x.length, rate);
      for (let k = from; k < Math.max(from + 1, binOf(BANDS_HZ[b + 1], x.length, rate)); k++) {
        own += x[k];
        other += y[k];
      }
      const snr = 10 * Math.log10((own * own + 1e-20) / ((own - other) ** 2 + 1e-20));
      const weight = own ** WEIGHT_POWER;
      weighed += weight * Math.max(LEAST_DB, Math.min(MOST_DB, snr));
      weights += weight;
    }
    sum += weighed / weights;
    frames++;
  }
  return sum / frames;
}

/** Root mean square distance of log spectra in dB, over frames of speech; what lies 50 dB under the loudest bin counts as that. */
export function logSpectralDistance(heard: Float32Array, clean: Float32Array, rate: number): number {
  const speaks = speechFrames(clean, rate);
  let [sum, frames, index] = [0, 0, 0];
  for (const [x, y] of spectra([clean, heard], rate)) {
    if (!speaks[index++]) continue;
    const floor = x.reduce((a, b) => Math.max(a, b), 0) * 10 ** (-50 / 20);
    const top = binOf(Math.min(8000, 0.45 * rate), x.length, rate);
    let squares = 0;
    for (let k = 1; k < top; k++) squares += (20 * Math.log10(Math.max(floor, y[k]) / Math.max(floor, x[k]))) ** 2;
    sum += Math.sqrt(squares / (top - 1));
    frames++;
  }
  return sum / frames;
}
