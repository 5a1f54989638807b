import { levelDb, processBlock, sine } from '../testing/index.ts';
import { catalogue } from './catalogue.ts';
import { chainFaults, chainFile, configureChain } from './chain-file.ts';
import { planPasses } from './plan.ts';
import { ScopeFade } from './scope.ts';
import { SHIPPED_CHAINS } from './shipped-chains.ts';
import { SHIPPED_PRESETS } from './shipped-presets.ts';

const step = (kind: string, settings: Record<string, unknown> = {}) => ({ kind, on: true, mix: 1, settings });
const plan = (...kinds: string[]) =>
  planPasses(configureChain(kinds.map((kind) => step(kind)))).map(({ reads, applies, studies, writes }) => [
    reads,
    applies.map(({ definition }) => definition.kind).join('+'),
    studies?.definition.kind ?? '',
    writes,
  ]);

describe('planPasses', () => {
  it('needs one pass where nothing must be heard first', () => {
    expect(plan('high-pass', 'compressor', 'limiter')).toEqual([
      ['input', 'high-pass+compressor+limiter', '', 'output'],
    ]);
  });

  it('spools once before a step that hears the whole', () => {
    expect(plan('parametric-eq', 'loudness-normalise', 'limiter')).toEqual([
      ['input', 'parametric-eq', 'loudness-normalise', 'spool'],
      ['spool', 'loudness-normalise+limiter', '', 'output'],
    ]);
  });

  it('hears the input itself where nothing has changed it', () => {
    expect(plan('loudness-normalise', 'limiter')).toEqual([
      ['input', '', 'loudness-normalise', 'nothing'],
      ['input', 'loudness-normalise+limiter', '', 'output'],
    ]);
  });

  it('makes one more pass for each such step', () => {
    expect(
      plan('noise-reduction', 'peak-normalise', 'compressor', 'rms-normalise').map(([, , studies]) => studies),
    ).toEqual(['noise-reduction', 'peak-normalise', 'rms-normalise', '']);
  });
});

describe('chain files', () => {
  it('names step, setting and range of a setting that is out of it', () => {
    const [fault] = chainFaults([step('gain'), step('high-pass', { frequencyHz: 5 })]);
    expect(fault).toMatchObject({ step: 2, kind: 'high-pass', setting: 'frequencyHz', minimum: 10, maximum: 20000 });
    expect(fault.message).toMatch(/Step 2 \(high-pass\), setting frequencyHz: .*10 to 20000 Hz/);
  });

  it('names a setting inside a band, one that does not exist, and a kind that is not known', () => {
    const faults = chainFaults([
      step('parametric-eq', { bands: [{ q: 99 }] }),
      step('gain', { gainDB: 1 }),
      step('from-tomorrow'),
    ]);
    expect(faults.map(({ code, setting }) => [code, setting])).toEqual([
      ['bad-setting', 'bands.0.q'],
      ['bad-setting', 'gainDB'],
      ['unknown-kind', undefined],
    ]);
  });

  it('leaves out steps that are off, but not what is wrong with them', () => {
    expect(
      configureChain([{ ...step('gain'), on: false }, step('limiter')]).map(({ definition }) => definition.kind),
    ).toEqual(['limiter']);
    expect(() => configureChain([{ ...step('gain', { gainDb: 1000 }), on: false }])).toThrow(/Step 1 \(gain\)/);
  });

  it('ships chains that can be run as they are', () => {
    for (const chain of SHIPPED_CHAINS)
      expect(() => configureChain(chainFile.parse(JSON.parse(JSON.stringify(chain))).steps)).not.toThrow();
  });

  it('tells unit, range and default of every number in the catalogue', () => {
    const numbers = catalogue()
      .flatMap(({ settings }) => Object.values(settings.properties as Record<string, Record<string, unknown>>))
      .filter(({ type }) => type === 'number');
    expect(numbers.length).toBeGreaterThan(10);
    for (const schema of numbers)
      expect(Object.keys(schema)).toEqual(expect.arrayContaining(['title', 'unit', 'minimum', 'maximum', 'default']));
  });
});

it('mixes half of a step in: -6.02 dB at mix 0.5 is a gain of 0.75', async () => {
  const { output } = await processBlock(
    [{ kind: 'gain', settings: { gainDb: -6.0206 }, mix: 0.5 }],
    [sine(1000, 0.4, 0.5, 48000)],
    48000,
  );
  expect(Math.max(...output[0])).toBeCloseTo(0.4 * 0.75, 3);
});

it('gives back the input, bit for bit, for a chain without steps', async () => {
  const input = sine(440, 0.5, 0.3, 44100);
  expect((await processBlock([], [input], 44100)).output[0]).toEqual(input);
});

describe('a step that keeps to marks', () => {
  const rate = 16000;
  const input = sine(500, 0.4, 4, rate);
  const known = { marks: [{ name: 'Aside', startSeconds: 1, endSeconds: 2 }] };
  const run = (kind: string, settings: Record<string, unknown>, marks: string[], blockFrames = 1000) =>
    processBlock([{ kind, settings, scope: { marks, crossfadeMs: 20 } }], [input], rate, blockFrames, known);
  const levelFrom = (samples: Float32Array, from: number, to: number) =>
    levelDb(samples.subarray(from * rate, to * rate));

  it('works inside them, and changes no sample outside', async () => {
    const [out] = (await run('gain', { gainDb: -12 }, ['Aside'])).output;
    expect(Math.abs(levelFrom(out, 1.1, 1.9) - levelFrom(input, 1.1, 1.9) + 12)).toBeLessThan(0.01);
    const changed = [...out.keys()].filter((i) => out[i] !== input[i]);
    expect(changed[0]).toBeGreaterThanOrEqual(0.99 * rate);
    expect(changed.at(-1)).toBeLessThanOrEqual(2.01 * rate);
  });

  it('S4: goes over on a straight line: half and half at the edge', async () => {
    const [out] = (await run('gain', { gainDb: -60 }, ['Aside'])).output;
    const edge = out.subarray(rate - 16, rate + 16);
    expect(Math.abs(levelDb(edge) - levelDb(input.subarray(rate - 16, rate + 16)) + 6.02)).toBeLessThan(0.3);
  });

  it('S4: lifts nothing at an edge where the step changes nothing', async () => {
    const constant = new Float32Array(3 * rate).fill(0.5);
    for (const [kind, settings] of [
      ['gain', { gainDb: 0 }],
      ['limiter', { ceilingDbtp: -3 }],
    ] as const) {
      const sketch = { kind, settings, scope: { marks: ['Aside'], crossfadeMs: 20 } };
      const [out] = (await processBlock([sketch], [constant], rate, 1000, known)).output;
      for (const x of out.subarray(100)) expect(Math.abs(x - 0.5)).toBeLessThan(1e-6);
    }
  });

  it('S16: knows its marks among thousands, in any order', () => {
    const many = Array.from({ length: 5000 }, (_, i) => ({
      name: 'Aside',
      startSeconds: 2 * i,
      endSeconds: 2 * i + 1,
    }));
    const fade = new ScopeFade({ marks: ['Aside'], crossfadeMs: 20 }, { marks: many.reverse() }, 100);
    for (const second of [0, 9000, 40, 9999, 1]) {
      const inside = second % 2 === 0;
      expect(fade.at(100 * second + 50)).toBe(inside ? 1 : 0);
      expect(fade.isOutside(100 * second + 20, 100 * second + 80)).toBe(!inside);
      expect([...fade.inside(100 * second, 100)]).toEqual(inside ? [[0, 100]] : []);
    }
  });

  it('is in its place though it takes time, and whatever the blocks', async () => {
    const settings = { ceilingDbtp: -20 };
    const [out] = (await run('limiter', settings, ['Aside'])).output;
    expect(levelFrom(out, 0, 0.95)).toBeCloseTo(levelFrom(input, 0, 0.95), 5);
    expect(Math.abs(levelFrom(out, 1.1, 1.9) + 23.01)).toBeLessThan(0.1);
    const [other] = (await run('limiter', settings, ['Aside'], 77)).output;
    expect(out.every((x, i) => x === other[i])).toBe(true);
  });

  it('sets the level of what lies there by what lies there, overlapping marks and all', async () => {
    // the first half 20 dB under the second
    const uneven = input.map((x, i) => (i < 2 * rate ? 0.1 * x : x));
    const marks = [
      { name: 'Guest', startSeconds: 0.2, endSeconds: 1 },
      { name: 'Guest', startSeconds: 0.8, endSeconds: 1.6 },
    ];
    for (const blockFrames of [333, 4096]) {
      const steps = [
        { kind: 'rms-normalise', settings: { rmsDbfs: -20 }, scope: { marks: ['Guest'], crossfadeMs: 20 } },
      ];
      const { output, reports } = await processBlock(steps, [uneven], rate, blockFrames, { marks });
      expect(levelFrom(output[0], 0.3, 1.5)).toBeCloseTo(-20, 2);
      expect(levelFrom(output[0], 2, 4)).toBeCloseTo(levelFrom(uneven, 2, 4), 6);
      expect(reports[0].findings.heardDb).toBeCloseTo(levelFrom(uneven, 0.3, 1.5), 2);
    }
  });

  it('does nothing where the recording has no such mark, and says so', async () => {
    const { output, reports } = await run('gain', { gainDb: -12 }, ['Chorus']);
    expect(output[0].every((x, i) => x === input[i])).toBe(true);
    expect(reports[0].findings.note).toMatch(/no range called Chorus/);
  });
});

it('ships presets that every kind takes as they are, with names of their own', () => {
  const steps = SHIPPED_PRESETS.map(({ kind, settings }) => ({ kind, on: true, mix: 1, settings }));
  expect(chainFaults(steps)).toEqual([]);
  expect(new Set(SHIPPED_PRESETS.map(({ kind, name }) => `${kind} ${name}`)).size).toBe(SHIPPED_PRESETS.length);
});

it('S16: gives every step an id of its own, and says where two are called alike', () => {
  const step = { kind: 'gain', on: true, mix: 1, settings: {} };
  const ids = configureChain([{ ...step, id: 'step-2' }, step, step]).map(({ id }) => id);
  expect(new Set(ids).size).toBe(3);
  expect(ids[0]).toBe('step-2');
  expect(() => configureChain([{ ...step, id: 'a' }, step, { ...step, id: 'a' }])).toThrow(
    /Step 3: its id "a" is that of step 1/,
  );
});
