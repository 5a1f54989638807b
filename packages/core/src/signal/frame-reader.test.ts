import fc from 'fast-check';
import { FrameReader } from './frame-reader.ts';
import { cut, MemorySignal } from './memory.ts';
import { framesOf, type Source } from './signal.ts';

const RATE = 8000;
const counted = (frames: number) => Float32Array.from({ length: frames }, (_, i) => i);
const sourceOf = (frames: number, blockFrames: number) =>
  new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [...cut([counted(frames)], blockFrames)]);

it('gives every frame once, in order, whatever sizes are asked for and come', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.integer({ min: 1, max: 3000 }),
      fc.integer({ min: 1, max: 700 }),
      fc.array(fc.integer({ min: 1, max: 900 }), { minLength: 1, maxLength: 8 }),
      async (frames, blockFrames, sizes) => {
        const reader = new FrameReader(sourceOf(frames, blockFrames));
        const heard: number[] = [];
        for (let i = 0; ; i++) {
          const wanted = sizes[i % sizes.length];
          const [channel] = await reader.read(wanted);
          heard.push(...channel);
          if (channel.length < wanted) break;
        }
        expect(heard).toEqual([...counted(frames)]);
        expect(framesOf(await reader.read(5))).toBe(0);
      },
    ),
  );
});

it('gives back what the source holds when it is closed before the end, and reads nothing from one that was never opened', async () => {
  let [opened, closed] = [0, 0];
  const source: Source = {
    format: { sampleRateHz: RATE, channels: 1 },
    async *blocks() {
      opened++;
      try {
        for (;;) yield [new Float32Array(100)];
      } finally {
        closed++;
      }
    },
  };
  await new FrameReader(source).close();
  expect([opened, closed]).toEqual([0, 0]);
  const reader = new FrameReader(source);
  await reader.read(250);
  await reader.close();
  expect([opened, closed]).toEqual([1, 1]);
  expect(framesOf(await reader.read(10))).toBe(0);
});
