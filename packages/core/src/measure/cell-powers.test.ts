import { FilterCascade } from '../dsp/filter-cascade.ts';
import { matchedCascade } from '../dsp/matched-cascade.ts';
import { butterworth } from '../dsp/prototypes.ts';
import { noise } from '../testing/index.ts';
import { CellPowers } from './cell-powers.ts';

/** Mean squares of what a filter gives, cell by cell to the frame nearest. */
function powersOf(samples: Float32Array, sections: Parameters<typeof matchedCascade>[0], rate: number, each: number) {
  const filtered = samples.slice();
  new FilterCascade(sections.length ? matchedCascade(sections, rate) : [], 1).process([filtered]);
  const edges = Array.from({ length: Math.floor((samples.length * each) / rate) + 1 }, (_, k) =>
    Math.round((k * rate) / each),
  ).filter((edge) => edge <= samples.length);
  return edges.slice(1).map((end, k) => {
    const cell = filtered.subarray(edges[k], end);
    return cell.reduce((sum, x) => sum + x * x, 0) / cell.length;
  });
}

it.each([
  [12000, 2000, 2],
  [11025, 2000, 3],
  [16000, 1000, 5],
  [6000, 100, 2],
])(
  'at %d Hz, %d cells a second, filters of %d sections: as filtering and summing gives it, whatever the blocks',
  (rate, each, sections) => {
    const samples = noise(0.3, 0.35, rate);
    const filters = [butterworth('high', 2 * sections, 700), butterworth('low', 2, 300)] as const;
    const expected = filters.map((filter) => powersOf(samples, filter, rate, each));
    for (const size of [1, 77, 4096]) {
      // one alone, two side by side, two and one more: each as if it were alone
      for (const channels of [1, 2, 3]) {
        const cascades = [matchedCascade(filters[0], rate), matchedCascade(filters[1], rate)] as const;
        const cells = new CellPowers(cascades, channels, rate, each);
        const found = Array.from({ length: channels }, () => [] as number[]);
        const gains = [1, 0.5, 0.25];
        for (let at = 0; at < samples.length; at += size) {
          const piece = samples.subarray(at, at + size);
          const block = found.map((_, c) => piece.map((x) => gains[c] * x));
          for (const [c, powers] of cells.hear(block).entries()) found[c].push(...powers);
        }
        found.forEach((powers, c) => {
          expect(powers.length).toBe(2 * expected[0].length);
          powers.forEach((power, k) => {
            const wanted = gains[c] ** 2 * expected[k % 2][k >> 1];
            expect(Math.abs(power - wanted)).toBeLessThan(1e-6 * wanted + 1e-12);
          });
        });
      }
    }
  },
);
