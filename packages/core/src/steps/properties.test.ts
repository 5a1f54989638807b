import fc from 'fast-check';
import { catalogue } from '../chain/catalogue.ts';
import { chainMap } from '../chain/run.ts';
import type { Block } from '../signal/signal.ts';
import { processBlock } from '../testing/index.ts';
import { STEPS } from './index.ts';

/**
 * What holds for every step under settings that nobody thought of: drawn from the step's own JSON Schema, over signals of any
 * rate, layout and level.
 */

const RUNS = 12;
/** So loud, none of the drawn gains together can make a sample of full scale. */
const MOST_SIZE = 10 ** (130 / 20);

interface Schema {
  type?: string;
  enum?: (string | number)[];
  minimum?: number;
  maximum?: number;
  items?: Schema;
  minItems?: number;
  maxItems?: number;
  properties?: Record<string, Schema>;
  anyOf?: Schema[];
  const?: unknown;
}

/** Values that a schema allows. */
function drawn(schema: Schema): fc.Arbitrary<unknown> {
  if (schema.const !== undefined) return fc.constant(schema.const);
  if (schema.enum) return fc.constantFrom(...schema.enum);
  if (schema.anyOf) return fc.oneof(...schema.anyOf.map(drawn));
  if (schema.type === 'boolean') return fc.boolean();
  if (schema.type === 'array')
    return fc.array(drawn(schema.items!), {
      minLength: schema.minItems ?? 0,
      maxLength: Math.min(4, schema.maxItems ?? 4),
    });
  if (schema.type === 'object')
    return fc.record(
      Object.fromEntries(Object.entries(schema.properties ?? {}).map(([key, one]) => [key, drawn(one)])),
      { requiredKeys: [] },
    );
  const [min, max] = [schema.minimum ?? 0, schema.maximum ?? 1];
  return schema.type === 'integer'
    ? fc.integer({ min, max })
    : fc.double({ min, max, noNaN: true, noDefaultInfinity: true });
}

/** Noise, tones, clicks and silence in stretches, of one to three channels. */
const signals = fc
  .record({
    rate: fc.constantFrom(8000, 11025, 22050, 48000, 96000),
    channels: fc.integer({ min: 1, max: 3 }),
    stretches: fc.array(
      fc.record({
        shape: fc.constantFrom('noise', 'tone', 'clicks', 'silence', 'dc'),
        frames: fc.integer({ min: 1, max: 3000 }),
        levelDb: fc.double({ min: -100, max: 0, noNaN: true }),
        seed: fc.integer({ min: 1, max: 1e9 }),
      }),
      { minLength: 1, maxLength: 5 },
    ),
    blockFrames: fc.integer({ min: 1, max: 5000 }),
  })
  .map(({ rate, channels, stretches, blockFrames }) => {
    const block: Block = Array.from({ length: channels }, (_, c) =>
      Float32Array.from(
        stretches.flatMap(({ shape, frames, levelDb, seed }) => {
          const size = 10 ** (levelDb / 20);
          let state = seed + 7919 * c;
          return Array.from({ length: frames }, (__, i) => {
            state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
            if (shape === 'noise') return size * (state / 2 ** 31 - 1);
            if (shape === 'tone') return size * Math.sin(i * (0.01 + (seed % 300) / 100));
            if (shape === 'clicks') return state % 500 === 0 ? size : 0;
            return shape === 'dc' ? size : 0;
          });
        }),
      ),
    );
    return { rate, block, blockFrames };
  });

/** Where two blocks part, or undefined: a whole block in a report would hide what was drawn. */
function firstDifference(a: Block, b: Block) {
  for (let c = 0; c < b.length; c++) {
    const at = b[c].findIndex((x, i) => x !== a[c][i]);
    if (at >= 0) return { channel: c, at, found: a[c][at], wanted: b[c][at] };
  }
  return undefined;
}

/** Crossovers must rise, and some lists are tied to each other: what the schema can't say is drawn until it fits. */
const settingsOf = (kind: string): fc.Arbitrary<Record<string, unknown>> => {
  const definition = STEPS.find((step) => step.kind === kind)!;
  const { settings } = catalogue().find((entry) => entry.kind === kind)!;
  return (drawn(settings as Schema) as fc.Arbitrary<Record<string, unknown>>).filter(
    (some) => definition.settings.safeParse(some).success,
  );
};

describe.each(STEPS.map(({ kind }) => [kind] as const))('%s, whatever its settings', (kind) => {
  const channelsMayChange = kind === 'channels';

  it('keeps the length, or says where its moments went, and stays finite', async () => {
    await fc.assert(
      fc.asyncProperty(settingsOf(kind), signals, async (settings, { rate, block, blockFrames }) => {
        const { output, reports } = await processBlock([{ kind, settings }], block, rate, blockFrames);
        const frames = Math.round(chainMap(reports, block[0].length / rate).at(-1)![1] * rate);
        if (!channelsMayChange) expect(output).toHaveLength(block.length);
        for (const channel of output) {
          expect(channel).toHaveLength(frames);
          expect(channel.every((x) => Math.abs(x) < MOST_SIZE)).toBe(true);
        }
      }),
      { numRuns: RUNS },
    );
  });

  it('does not depend on where blocks are cut', async () => {
    await fc.assert(
      fc.asyncProperty(settingsOf(kind), signals, async (settings, { rate, block, blockFrames }) => {
        const { output: whole } = await processBlock([{ kind, settings }], block, rate, block[0].length);
        const { output: cut } = await processBlock([{ kind, settings }], block, rate, blockFrames);
        expect(firstDifference(cut, whole)).toBeUndefined();
      }),
      { numRuns: RUNS / 2 },
    );
  });

  it('is not heard at all where nothing of it is mixed in', async () => {
    if (channelsMayChange || kind === 'multiband-compressor') return; // the dry path takes its phases
    await fc.assert(
      fc.asyncProperty(settingsOf(kind), signals, async (settings, { rate, block }) => {
        const { output } = await processBlock([{ kind, settings, mix: 0 }], block, rate);
        expect(firstDifference(output, block)).toBeUndefined();
      }),
      { numRuns: RUNS / 2 },
    );
  });

  it('leaves silence silent', async () => {
    await fc.assert(
      fc.asyncProperty(settingsOf(kind), async (settings) => {
        const { output } = await processBlock([{ kind, settings }], [new Float32Array(9000)], 44100);
        expect(output[0].every((x) => x === 0)).toBe(true);
      }),
      { numRuns: RUNS / 2 },
    );
  });
});
