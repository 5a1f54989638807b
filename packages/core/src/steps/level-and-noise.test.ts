import { RealFft } from '@tonos/kernels';
import { LoudnessMeter } from '../measure/loudness.ts';
import { babble, levelDb, mixed, noise, processBlock, sine } from '../testing/index.ts';

const RATE = 24000;
const voice = babble(12, RATE).map((x) => 0.15 * x);
const hiss = noise(0.002, 12, RATE);
const recording = mixed(voice, hiss);

describe('normalisers', () => {
  it.each([-23, -16])('bring the loudness to %d LUFS within 0.05 LU', async (integratedLufs) => {
    const { output } = await processBlock(
      [{ kind: 'loudness-normalise', settings: { integratedLufs } }],
      [recording],
      RATE,
    );
    const meter = new LoudnessMeter({ sampleRateHz: RATE, channels: 1 });
    meter.hear(output);
    expect(Math.abs(meter.conclude().integratedLufs - integratedLufs)).toBeLessThan(0.05);
  });

  it('bring the RMS over all channels to -20 dBFS', async () => {
    const { output } = await processBlock(
      [{ kind: 'rms-normalise', settings: { rmsDbfs: -20 } }],
      [recording, hiss],
      RATE,
    );
    const power = (10 ** (levelDb(output[0]) / 10) + 10 ** (levelDb(output[1]) / 10)) / 2;
    expect(10 * Math.log10(power)).toBeCloseTo(-20, 2);
  });

  it('bring the sample peak to -6 dBFS', async () => {
    const { output } = await processBlock(
      [{ kind: 'peak-normalise', settings: { peakDb: -6, peak: 'sample' } }],
      [sine(997, 0.1, 1, RATE)],
      RATE,
    );
    expect(20 * Math.log10(Math.max(...output[0].map(Math.abs)))).toBeCloseTo(-6, 2);
  });
});

describe('noise reduction', () => {
  const clean = async (input: Float32Array, settings: Record<string, unknown>) => {
    const { output, reports } = await processBlock([{ kind: 'noise-reduction', settings }], [input], RATE);
    return { output: output[0], findings: reports[0].findings };
  };
  /** A pause that is no room tone's own edge: seconds 7.1 to 7.9 of `babble`. */
  const pause = (samples: Float32Array) => samples.slice(7.15 * RATE, 7.85 * RATE);
  const speech = (samples: Float32Array) => samples.slice(4 * RATE, 7 * RATE);

  it.each([6, 12, 20])('takes the noise in the pauses down by %d dB, within 1.5 dB', async (reductionDb) => {
    const { output, findings } = await clean(recording, { reductionDb });
    expect(findings.method).toBe('room-tone');
    expect(Math.abs(levelDb(pause(recording)) - levelDb(pause(output)) - reductionDb)).toBeLessThan(1.5);
  });

  it('leaves the level of the voice within 0.5 dB', async () => {
    const { output } = await clean(recording, { reductionDb: 12 });
    expect(Math.abs(levelDb(speech(output)) - levelDb(speech(voice)))).toBeLessThan(0.5);
  });

  it('brings a noisy voice nearer to the clean one: the error is at least 3 dB less at 10 dB signal to noise', async () => {
    const noisy = mixed(voice, noise(10 ** ((levelDb(speech(voice)) - 10) / 20), 12, RATE, 3));
    const { output } = await clean(noisy, { reductionDb: 20 });
    const error = (samples: Float32Array) => levelDb(speech(samples.map((x, i) => x - voice[i])));
    expect(error(noisy) - error(output)).toBeGreaterThan(3);
  });

  /** |X|^2 in dB of frames of 1024 samples, half overlapping, nothing below -100 dB. */
  function spectrogram(samples: Float32Array): Float64Array[] {
    const fft = new RealFft(1024);
    const frames: Float64Array[] = [];
    const [re, im] = [new Float32Array(fft.bins), new Float32Array(fft.bins)];
    for (let at = 0; at + 1024 <= samples.length; at += 512) {
      fft.forward(samples.subarray(at, at + 1024), re, im, 'hann');
      frames.push(Float64Array.from(re, (x, k) => 10 * Math.log10((x * x + im[k] * im[k]) / 65536 + 1e-10)));
    }
    return frames;
  }

  /** Root mean square over bins of the difference in dB, mean over frames. */
  function logSpectralDistance(a: Float32Array, b: Float32Array): number {
    const [one, two] = [spectrogram(a), spectrogram(b)];
    return (
      one.reduce(
        (sum, frame, i) =>
          sum + Math.sqrt(frame.reduce((square, x, k) => square + (x - two[i][k]) ** 2, 0) / frame.length),
        0,
      ) / one.length
    );
  }

  it.each([5, 10, 20])(
    'comes nearer to the clean voice at %d dB signal to noise: the log-spectral distance falls',
    async (snrDb) => {
      const studio = mixed(voice, noise(1e-4, 12, RATE, 8));
      const noisy = mixed(studio, noise(10 ** ((levelDb(speech(voice)) - snrDb) / 20), 12, RATE, 3));
      for (const reductionDb of [12, 24]) {
        const { output } = await clean(noisy, { reductionDb });
        expect(logSpectralDistance(output, studio)).toBeLessThan(0.9 * logSpectralDistance(noisy, studio));
      }
    },
  );

  it('leaves noise of the same colour, without tones of its own: every octave falls alike, within 3 dB, and stays as even', async () => {
    const { output } = await clean(recording, { reductionDb: 15 });
    const [before, after] = [spectrogram(pause(recording)), spectrogram(pause(output))];
    const octave = (frames: Float64Array[], low: number) =>
      10 *
      Math.log10(
        frames.reduce(
          (sum, frame) => sum + frame.slice(low, 2 * low).reduce((power, db) => power + 10 ** (db / 10), 0),
          0,
        ) / frames.length,
      );
    for (const low of [8, 16, 32, 64, 128, 256])
      expect(Math.abs(octave(before, low) - octave(after, low) - 15)).toBeLessThan(3);
    // musical noise is a few bins that stick out: the largest against the mean, in dB
    const crest = (frames: Float64Array[]) =>
      Math.max(...frames.map((frame) => Math.max(...frame.slice(8)))) - octave(frames, 64) + 10 * Math.log10(64);
    expect(crest(after)).toBeLessThan(crest(before) + 6);
  });

  it('falls back to the adaptive method where there is no room tone, and says so', async () => {
    const restless = Float32Array.from({ length: 8 * RATE }, (_, i) => voice[RATE + (i % (2 * RATE))]);
    const { findings } = await clean(mixed(restless, noise(0.0003, 8, RATE)), {});
    expect(findings).toMatchObject({ method: 'adaptive', note: expect.stringMatching(/room tone/) });
  });

  it('follows steady noise by the adaptive method: 12 dB in the pauses within 3 dB', async () => {
    const { output } = await clean(recording, { reductionDb: 12, method: 'adaptive' });
    expect(Math.abs(levelDb(pause(recording)) - levelDb(pause(output)) - 12)).toBeLessThan(3);
  });
});
