import fc from 'fast-check';
import { silenceBadSamples } from './bad-samples.ts';

const LARGEST = 1e6;
const isBad = (x: number) => !(Math.abs(x) <= LARGEST);

it('silences what is no number or absurdly large, counts it, and leaves everything else to the bit', () => {
  fc.assert(
    fc.property(fc.array(fc.float32Array({ maxLength: 70 }), { minLength: 1, maxLength: 3 }), (channels) => {
      // channels are as long as one another
      const frames = Math.min(...channels.map(({ length }) => length));
      const block = channels.map((channel) => channel.slice(0, frames));
      const before = block.map((channel) => channel.slice());
      const bad = before.reduce((sum, channel) => sum + channel.filter(isBad).length, 0);
      expect(silenceBadSamples(block)).toBe(bad);
      expect(block).toEqual(before.map((channel) => channel.map((x) => (isBad(x) ? 0 : x))));
      expect(silenceBadSamples(block)).toBe(0);
    }),
  );
});

it('finds a single bad sample anywhere in a block longer than what kernels hold', () => {
  for (const at of [0, 1, 65535, 65536, 99_998, 99_999]) {
    const channel = new Float32Array(100_000).fill(0.5);
    channel[at] = Number.NaN;
    expect(silenceBadSamples([channel])).toBe(1);
    expect(channel[at]).toBe(0);
  }
});

it('keeps the largest that is sound, and not one step beyond', () => {
  const beyond = Math.fround(LARGEST * (1 + 2 ** -22));
  const samples = Float32Array.of(LARGEST, -LARGEST, beyond, -beyond, 1e-45);
  expect(silenceBadSamples([samples])).toBe(2);
  expect([...samples]).toEqual([LARGEST, -LARGEST, 0, 0, Math.fround(1e-45)]);
});
