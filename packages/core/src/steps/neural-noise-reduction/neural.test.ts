import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { babble, levelDb, mixed, noise, processBlock } from '../../testing/index.ts';
import { RNNOISE_WASM } from './rnnoise-wasm.ts';

const clean = (samples: Float32Array, rate: number, strength = 1, blockFrames = 4096) =>
  processBlock([{ kind: 'neural-noise-reduction', settings: { strength } }], [samples], rate, blockFrames).then(
    ({ output }) => output[0],
  );

/** Tilts by 6 dB an octave: the network's high-pass moves what lies near 20 Hz. */
const differences = (samples: Float32Array): Float32Array => samples.map((x, i) => x - (samples[i - 1] ?? 0));

/** By how many frames `late` lags `early`, where they are most alike. */
function lagOf(late: Float32Array, early: Float32Array, reach: number): number {
  let best = { lag: 0, product: Number.NEGATIVE_INFINITY };
  for (let lag = -reach; lag <= reach; lag++) {
    let product = 0;
    for (let i = reach; i < early.length - reach; i += 3) product += early[i] * late[i + lag];
    if (product > best.product) best = { lag, product };
  }
  return best.lag;
}

it('carries the very module of the package it names', () => {
  const file = createRequire(import.meta.url).resolve('@echogarden/rnnoise-wasm/rnnoise.wasm');
  expect(RNNOISE_WASM).toBe(readFileSync(file).toString('hex'));
});

describe.each([8000, 22050, 44100, 48000, 96000])('at %d Hz', (rate) => {
  const voice = babble(6, rate).map((x) => 2 * x);
  const noisy = mixed(voice, noise(0.004, 6, rate, 3));

  it('takes noise out of the pauses, keeps the voice and its place', async () => {
    const output = await clean(noisy, rate);
    expect(output.length).toBe(noisy.length);
    const [from, to] = [3.3 * rate, 3.9 * rate];
    expect(levelDb(output.subarray(from, to))).toBeLessThan(levelDb(noisy.subarray(from, to)) - 12);
    const spoken = [1.2 * rate, 2.8 * rate] as const;
    expect(Math.abs(levelDb(output.subarray(...spoken)) - levelDb(voice.subarray(...spoken)))).toBeLessThan(4);
    expect(lagOf(differences(output), differences(voice), 20)).toBe(0);
  });

  it('changes no bit at strength 0', async () => {
    const output = await clean(noisy, rate, 0);
    expect(output.every((x, i) => x === noisy[i])).toBe(true);
  });
});

it('takes half of it away at strength 0.5', async () => {
  const noisy = mixed(babble(4, 48000), noise(0.004, 4, 48000, 3));
  const [full, half] = [await clean(noisy, 48000), await clean(noisy, 48000, 0.5)];
  let worst = 0;
  for (let i = 0; i < noisy.length; i++) worst = Math.max(worst, Math.abs(half[i] - (noisy[i] + full[i]) / 2));
  expect(worst).toBeLessThan(1e-6);
});
