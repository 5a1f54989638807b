import fc from 'fast-check';
import { MemorySignal } from '../signal/memory.ts';
import { noise } from '../testing/index.ts';
import { toResult, toSource } from '../time/time-map.ts';
import { cutFaults } from './check-cuts.ts';
import { cutsInOrder, secondsAfter, spanOf, type TimeCut } from './cut.ts';
import { cutSource } from './cut-source.ts';

const RATE = 8000;
const SECONDS = 12;
const samples = noise(0.1, SECONDS, RATE);

/** Cuts that fit one recording: stretches between moments that rise, some of them left as they are. */
const cuts = fc
  .array(
    fc.tuple(
      fc.integer({ min: 1, max: 900 }),
      fc.integer({ min: 1, max: 900 }),
      fc.constantFrom('take-out', 'room-tone', 'pause', 'off'),
    ),
    {
      maxLength: 12,
    },
  )
  .map((parts) => {
    let at = 0;
    return parts.flatMap(([gap, length, kind]): TimeCut[] => {
      const startSeconds = (at + gap) / 1000;
      const endSeconds = startSeconds + length / 1000;
      at += gap + length;
      if (endSeconds > SECONDS) return [];
      if (kind === 'pause') return [{ kind, on: true, atSeconds: startSeconds, lengthSeconds: length / 1000 }];
      if (kind === 'off') return [{ kind: 'take-out', on: false, startSeconds, endSeconds }];
      return [{ kind: kind as 'take-out' | 'room-tone', on: true, startSeconds, endSeconds }];
    });
  });

const made = (own: readonly TimeCut[]) =>
  cutSource(new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [[samples]]), own, {
    name: 'noise',
    openPickUp: () => Promise.reject(new Error('there is none')),
  });

it('any cuts: as long as they say, and every moment that stays keeps its sound', async () => {
  await fc.assert(
    fc.asyncProperty(cuts, async (own) => {
      expect(cutFaults(own, SECONDS)).toEqual([]);
      const { source, map } = await made(own);
      const sink = new MemorySignal(source.format);
      for await (const block of source.blocks()) sink.write(block);
      const [output] = sink.joined();
      expect(Math.abs(output.length - secondsAfter(own, SECONDS) * RATE)).toBeLessThan(own.length + 1);
      const edges = cutsInOrder(own).flatMap((cut) => {
        const { startSeconds, endSeconds } = spanOf(cut);
        return [startSeconds, endSeconds];
      });
      for (let at = 0.05; at < SECONDS; at += 0.37) {
        const isCut = cutsInOrder(own).some((cut) => {
          const { startSeconds, endSeconds } = spanOf(cut);
          return at >= startSeconds && at <= endSeconds;
        });
        // joins reach 20 ms to either side
        if (isCut || edges.some((edge) => Math.abs(edge - at) < 0.03)) continue;
        const there = toResult(map, at);
        expect(Math.abs(toSource(map, there) - at)).toBeLessThan(1e-6);
        expect(output[Math.round(there * RATE)]).toBe(samples[Math.round(at * RATE)]);
      }
    }),
    { numRuns: 40 },
  );
});

it('any cuts: one that is laid over another one is told of, with both names', () => {
  fc.assert(
    fc.property(cuts, fc.nat(), (own, pick) => {
      const ordered = cutsInOrder(own).filter(({ kind }) => kind !== 'pause');
      if (!ordered.length) return;
      const { startSeconds, endSeconds } = spanOf(ordered[pick % ordered.length]);
      const middle = (startSeconds + endSeconds) / 2;
      const over: TimeCut = { kind: 'pause', id: 'over', on: true, atSeconds: middle, lengthSeconds: 1 };
      expect(cutFaults([...own, over], SECONDS).join()).toMatch(/"over".*overlap/);
      expect(cutFaults([...own, { ...over, on: false }], SECONDS)).toEqual([]);
    }),
    { numRuns: 60 },
  );
});
