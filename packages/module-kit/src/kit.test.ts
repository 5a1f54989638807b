import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkModule, knowModule, readModuleFile } from '@tonos/core';
import { levelDb, processBlock, sine } from '@tonos/core/testing';
import { buildModule } from '../build-module.mjs';

const folder = (name: string) => join(import.meta.dirname, '..', name);
const ANY = 'd'.repeat(64);

it.each(['tilt', 'template'])('%s keeps every promise of the step contract', async (name) => {
  const checks = checkModule(readModuleFile(await buildModule(folder(name)), name), ANY);
  expect(checks.filter(({ fails }) => fails)).toEqual([]);
});

it('the tilt that ships is what its source says', async () => {
  expect(Buffer.from(await buildModule(folder('tilt'))).equals(readFileSync(join(folder('tilt'), 'tilt.wasm')))).toBe(
    true,
  );
});

it.each([8000, 44100, 192000])(
  'the tilt tips the spectrum about its pivot, as its prototype does, at %d Hz',
  async (rate) => {
    knowModule({ sha256: ANY, ...readModuleFile(readFileSync(join(folder('tilt'), 'tilt.wasm')), 'tilt') });
    const settings = { module: { sha256: ANY }, tiltDb: 6, pivotHz: 1000 };
    for (const hz of [50, 1000, 3500]) {
      const tone = sine(hz, 0.25, 1, rate);
      const { output } = await processBlock([{ kind: 'custom', settings }], [tone, tone], rate);
      // |H| of (A s + 1) / (s + A), at the frequency that the bilinear transform puts there
      const [s, a] = [Math.tan((Math.PI * hz) / rate) / Math.tan((Math.PI * 1000) / rate), 10 ** (6 / 40)];
      const wanted = 20 * Math.log10(Math.hypot(a * s, 1) / Math.hypot(s, a));
      for (const channel of output)
        expect(levelDb(channel.subarray(rate / 2)) - levelDb(tone.subarray(rate / 2))).toBeCloseTo(wanted, 2);
    }
  },
);

it('one that misbehaves is found out, and named', async () => {
  const file = readModuleFile(await buildModule(folder('misbehaving')), 'misbehaving');
  knowModule({ sha256: 'e'.repeat(64), ...file });
  const run = (how: string) =>
    processBlock(
      [{ kind: 'custom', settings: { module: { sha256: 'e'.repeat(64) }, how } }],
      [sine(440, 0.5, 1, 16000)],
      16000,
      500,
    );
  await expect(run('breaks-off')).rejects.toMatchObject({
    code: 'module-failed',
    message: expect.stringContaining('“Misbehaving” 0.1'),
  });
  const { output } = await run('no-numbers');
  expect(output[0].every(Number.isFinite)).toBe(true);
});
