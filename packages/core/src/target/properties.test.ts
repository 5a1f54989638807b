import fc from 'fast-check';
import type { SoundFigures } from '../measure/measurement.ts';
import { deliveredName, freeName, NAME_WORDS, safeName, unknownWords } from './naming.ts';
import { SHIPPED_TARGETS } from './shipped-targets.ts';
import type { Limit } from './target-file.ts';
import { judge } from './verdict.ts';

/** Names with every odd character, and verdicts over every figure. */

const anyText = fc.string({ unit: 'binary', maxLength: 300 });

describe('names of files', () => {
  // what Windows, macOS and Linux do not take, or take for something else
  const FORBIDDEN = /[/\\:*?"<>|\p{Cc}\p{Cs}]/u;

  it('hold nothing that a file system stumbles over, whatever the text', () => {
    fc.assert(
      fc.property(anyText, (text) => {
        const name = safeName(text);
        expect(name).not.toMatch(FORBIDDEN);
        expect(name).not.toMatch(/^[.\s]|[.\s]$/);
        expect(name.length).toBeGreaterThan(0);
        expect(Buffer.byteLength(name)).toBeLessThanOrEqual(200);
        expect(safeName(name)).toBe(name);
      }),
    );
  });

  it('are never a path, from a template of words and text', () => {
    const parts = fc.record({
      name: anyText,
      title: anyText,
      album: anyText,
      track: fc.integer({ min: 1, max: 99999 }),
      tracks: fc.integer({ min: 1, max: 99999 }),
      speaker: anyText,
    });
    const template = fc
      .array(fc.oneof(fc.constantFrom(...NAME_WORDS.map((word) => `{${word}}`)), anyText), { maxLength: 5 })
      .map((some) => some.join(''));
    fc.assert(
      fc.property(template, parts, (some, filled) => {
        const name = deliveredName(some, filled);
        expect(name).not.toMatch(FORBIDDEN);
        expect(['', '.', '..']).not.toContain(name);
      }),
    );
  });

  it('find a free one, and the first of them', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 30 }), (taken) => {
        const names = new Set(['a.wav', ...Array.from({ length: taken }, (_, i) => `a (${i + 2}).wav`)]);
        const free = freeName('a', '.wav', (name) => names.has(name));
        expect(names.has(free)).toBe(false);
        expect(free).toBe(`a (${taken + 2}).wav`);
      }),
    );
  });

  it('know their words, and which are none', () => {
    for (const word of NAME_WORDS) expect(unknownWords(`x {${word}} y`)).toEqual([]);
    fc.assert(
      fc.property(fc.stringMatching(/^[a-z]{1,12}$/), (word) => {
        const known = (NAME_WORDS as readonly string[]).includes(word);
        expect(unknownWords(`{${word}}`)).toEqual(known ? [] : [word]);
      }),
    );
  });
});

describe('verdicts', () => {
  const figure = fc.option(fc.double({ min: -200, max: 50, noNaN: true }), { nil: null });
  const limits = fc
    .record({
      measure: fc.constantFrom('integratedLufs', 'truePeakDbtp', 'noiseFloorDbfs', 'loudnessRangeLu'),
      min: figure,
      span: fc.double({ min: 0, max: 40, noNaN: true }),
      open: fc.boolean(),
      required: fc.boolean(),
    })
    .map(
      ({ measure, min, span, open, required }) =>
        ({ measure, min, max: min === null ? span : open ? null : min + span, required }) as Limit,
    );
  const figures = fc
    .record({ integratedLufs: figure, truePeakDbtp: figure, noiseFloorDbfs: figure, loudnessRangeLu: figure })
    .map((some) => ({ rmsDbfs: -20, ...some }) as SoundFigures);

  it('are within exactly where every required limit is', () => {
    fc.assert(
      fc.property(fc.array(limits, { maxLength: 5 }), figures, (some, heard) => {
        const { verdict, limits: judged } = judge(some, heard);
        expect(judged).toHaveLength(some.length);
        const held = judged.every(({ required, result }) => !required || result === 'within');
        if (!held) expect(verdict).toBe('off-target');
        if (verdict === 'off-target') expect(held && heard.rmsDbfs !== null).toBe(false);
      }),
    );
  });

  it('say by how much: moved by that, the figure is inside', () => {
    fc.assert(
      fc.property(limits, figures, (limit, heard) => {
        const [{ result, by, value, min, max }] = judge([limit], heard).limits;
        expect(value).toBe(heard[limit.measure as 'integratedLufs']);
        // silence lies under every upper limit, and under every lower one too
        if (value === null || by === null) return expect(result).toBe(min === null ? 'within' : 'under');
        expect(by).toBeGreaterThanOrEqual(0);
        const moved = result === 'over' ? value - by : value + by;
        if (min !== null) expect(moved).toBeGreaterThanOrEqual(min - 1e-9);
        if (max !== null) expect(moved).toBeLessThanOrEqual(max + 1e-9);
        expect(result === 'within').toBe(by === 0);
      }),
    );
  });

  it('hold every shipped target to its own aims: what lies at each aim is within', () => {
    for (const { limits: own } of SHIPPED_TARGETS) {
      const at = Object.fromEntries(
        own.map(({ measure, aim, min, max }) => [
          measure,
          aim ?? (min !== null && max !== null ? (min + max) / 2 : (max ?? min)),
        ]),
      );
      expect(judge(own, { rmsDbfs: -20, ...at } as unknown as SoundFigures).verdict).toBe('within');
    }
  });
});
