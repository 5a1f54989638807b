import { processBlock } from '@tonos/core/testing';
import {
  add,
  atLevel,
  booth,
  CORPUS_VOICES,
  fan,
  logSpectralDistance,
  narrated,
  sharpen,
  soften,
  weightedSegmentalSnr,
  white,
} from './index.ts';

const RATE = 16000;

const airConditioning = (frames: number): Float32Array =>
  soften(soften(white(frames, 7), 300, RATE), 700, RATE).map(
    (x, i) => x * (1 + 0.15 * Math.sin((2 * Math.PI * 0.7 * i) / RATE)),
  );
const NOISES = {
  fan: (frames: number) => fan(frames, RATE, 0, 7),
  'air-conditioning': airConditioning,
  hiss: (frames: number) => sharpen(white(frames, 7), 500, RATE),
};

const powerDb = (samples: Float32Array, from: number, to: number): number =>
  10 * Math.log10(samples.subarray(from, to).reduce((sum, x) => sum + x * x, 0) / (to - from) + 1e-20);

describe.each(Object.keys(NOISES) as (keyof typeof NOISES)[])('S22: noise reduction, %s', (noise) => {
  it.each([5, 10, 20])(
    'at %d dB: nearer to the clean voice on both measures, and the floor falls as asked',
    async (snrDb) => {
      const voice = CORPUS_VOICES[snrDb % 3];
      const { samples, spans } = await narrated(RATE, { sentences: 4, voice, headSeconds: 1, pauseSeconds: 0.9 });
      const speechDb =
        spans.reduce(
          (sum, s) => sum + powerDb(samples, Math.round(s.startSeconds * RATE), Math.round(s.endSeconds * RATE)),
          0,
        ) / spans.length;
      const noisy = add(samples.slice(), atLevel(NOISES[noise](samples.length), speechDb - snrDb));
      const { output } = await processBlock(
        [{ kind: 'noise-reduction', settings: { reductionDb: 12 } }],
        [noisy],
        RATE,
      );
      const heard = output[0] as Float32Array;
      expect(weightedSegmentalSnr(heard, samples, RATE)).toBeGreaterThan(weightedSegmentalSnr(noisy, samples, RATE));
      expect(logSpectralDistance(heard, samples, RATE)).toBeLessThan(logSpectralDistance(noisy, samples, RATE));
      const [from, to] = [0.2 * RATE, 0.8 * RATE];
      expect(Math.abs(powerDb(noisy, from, to) - powerDb(heard, from, to) - 12)).toBeLessThan(1.5);
      // what is left swings by less than 3 dB over a tenth of a second
      const tenths = [0.2, 0.3, 0.4, 0.5, 0.6, 0.7].map((s) => powerDb(heard, s * RATE, (s + 0.1) * RATE));
      expect(Math.max(...tenths) - Math.min(...tenths)).toBeLessThan(3);
      // the first 30 ms of a word lose less than the noise in them explains
      for (const { startSeconds } of spans) {
        const at = Math.round((startSeconds + 0.02) * RATE);
        const part = (signal: Float32Array) => powerDb(signal, at, at + 0.03 * RATE);
        if (part(samples) > speechDb - 10) expect(part(samples) - part(heard)).toBeLessThan(3);
      }
    },
  );
});

it.each(CORPUS_VOICES)(
  'S22: speech 20 dB over the floor of a clean recording stays within 0.5 dB: %s',
  async (voice) => {
    const { samples } = await narrated(RATE, { sentences: 4, voice });
    const clean = add(samples, booth(samples.length, RATE, -62, 3));
    const { output } = await processBlock([{ kind: 'noise-reduction' }], [clean], RATE);
    const frame = 0.02 * RATE;
    for (let at = 0; at + frame <= clean.length; at += frame) {
      const before = powerDb(clean, at, at + frame);
      if (before > -42) expect(Math.abs(powerDb(output[0] as Float32Array, at, at + frame) - before)).toBeLessThan(0.5);
    }
  },
);
