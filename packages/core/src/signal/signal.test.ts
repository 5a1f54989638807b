import { silenceBadSamples } from './bad-samples.ts';
import { TonosError } from './errors.ts';
import { figure, hertzFigure, plainFigure, readHertz, signedFigure } from './figures.ts';
import { cut, MemorySignal } from './memory.ts';
import { Random } from './random.ts';

describe('figures', () => {
  it.each([
    ['80', 80],
    ['80 Hz', 80],
    ['1.2k', 1200],
    ['1,2 kHz', 1200],
    ['high', null],
    ['', null],
  ])('reads the frequency %j', (text, hz) => {
    expect(readHertz(text)).toBe(hz);
  });

  it.each([
    [figure(-23.04), '\u221223.0'],
    [figure(-0.04), '0.0'],
    [figure(7, 0), '7'],
    [signedFigure(1.25), '+1.3'],
    [signedFigure(-0.01), '0.0'],
    [plainFigure(80), '80'],
    [plainFigure(0.5), '0.5'],
    [hertzFigure(8000), '8 kHz'],
    [hertzFigure(240), '240 Hz'],
  ])('prints %s', (printed, expected) => expect(printed).toBe(expected));
});

it('Random is even, normal and the same for the same seed', () => {
  const random = new Random(1);
  const uniform = Array.from({ length: 50000 }, () => random.next());
  expect(Math.min(...uniform)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...uniform)).toBeLessThan(1);
  expect(uniform.reduce((sum, x) => sum + x, 0) / 50000).toBeCloseTo(0.5, 2);
  const normal = Array.from({ length: 50000 }, () => random.normal());
  expect(normal.reduce((sum, x) => sum + x * x, 0) / 50000).toBeCloseTo(1, 1);
  expect(new Random(7).next()).toBe(new Random(7).next());
});

it('MemorySignal gives its blocks again from the start, as copies', async () => {
  const signal = new MemorySignal({ sampleRateHz: 8000, channels: 2 }, [
    ...cut([new Float32Array([1, 2, 3]), new Float32Array([4, 5, 6])], 2),
  ]);
  for (let round = 0; round < 2; round++) {
    let frames = 0;
    for await (const block of signal.blocks()) {
      frames += block[0].length;
      block[0].fill(0);
    }
    expect(frames).toBe(3);
  }
  expect(signal.joined()).toEqual([new Float32Array([1, 2, 3]), new Float32Array([4, 5, 6])]);
});

it('takes NaN, infinities and absurd values as silence, and counts them', () => {
  const samples = new Float32Array([0.5, Number.NaN, Number.POSITIVE_INFINITY, -1e30, -0.5]);
  expect(silenceBadSamples([samples])).toBe(3);
  expect([...samples]).toEqual([0.5, 0, 0, 0, -0.5]);
});

it('errors carry a code, plain details and their cause', () => {
  const cause = new Error('disk');
  const error = new TonosError('full', 'The spool is full.', { bytes: 3 }, { cause });
  expect(error).toMatchObject({ name: 'TonosError', code: 'full', details: { bytes: 3 }, cause });
});
