import { processBlock } from '@tonos/core/testing';
import { add, booth, narrated } from './index.ts';

it('S7: noise reduction learns the room although it becomes 3 dB quieter in the middle', async () => {
  const rate = 8000;
  const { samples } = await narrated(rate, { sentences: 48, voice: 'slt', pauseSeconds: 0.5 });
  const half = samples.length >> 1;
  const [before, after] = [booth(samples.length, rate, -50, 4), booth(samples.length, rate, -53, 5)];
  const room = before.map((x, i) => (i < half ? x : after[i]));
  const { reports } = await processBlock([{ kind: 'noise-reduction' }], [add(samples, room)], rate);
  expect(reports[0].findings.method).toBe('room-tone');
  const regions = reports[0].findings.regions as { startSeconds: number }[];
  const seconds = samples.length / rate;
  // from both halves, so that neither is taken for the whole
  expect(regions.some(({ startSeconds }) => startSeconds < seconds / 2)).toBe(true);
  expect(regions.some(({ startSeconds }) => startSeconds > seconds / 2)).toBe(true);
});
