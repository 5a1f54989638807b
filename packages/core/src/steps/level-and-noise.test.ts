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
