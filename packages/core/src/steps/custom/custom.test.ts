import fc from 'fast-check';
import { chainFaults, configureChain } from '../../chain/chain-file.ts';
import { checkModule } from '../../chain/check-module.ts';
import {
  code,
  handmadeManifest,
  handmadeModule,
  KEEP_SETTING,
  noise,
  processBlock,
  TIMES_SETTING,
  wasmTypes,
} from '../../testing/index.ts';
import { stepOf } from '../index.ts';
import { readModuleFile } from './module-file.ts';
import { sharedWatch, WATCH_WORDS, WatchKeeper, watchModules } from './module-watch.ts';
import { modulesIn } from './named-module.ts';
import { forgetModule, knowModule } from './registry.ts';

const { I32, F64 } = wasmTypes;

const hash = (digit: string) => digit.repeat(64);
/** Makes a module known under a hash of the test's own. @returns a step that names it */
function known(bytes: Uint8Array, sha256 = hash('a'), settings = {}) {
  knowModule({ sha256, ...readModuleFile(bytes, 'a.wasm') });
  return { kind: 'custom', settings: { module: { sha256, name: 'Handmade', version: '1.0' }, ...settings } };
}
afterEach(() => {
  for (const digit of 'abc') forgetModule(hash(digit));
  watchModules({ enters: () => {}, leaves: () => {} });
});

const factor = {
  settings: {
    properties: {
      factor: { type: 'number', title: 'Factor', unit: '', minimum: -2, maximum: 2, default: 0.5 },
    },
  },
};
const timesFactor = (more: object = {}) =>
  handmadeModule({
    manifest: { ...handmadeManifest, channels: { minimum: 1, maximum: 1 }, ...factor, ...more },
    functions: { process: { params: [I32], code: TIMES_SETTING }, set: KEEP_SETTING },
  });

describe('a module that keeps to the interface', () => {
  it('is a step like any other: settings with range, mix, and its own name', async () => {
    const step = known(timesFactor(), undefined, { factor: -2 });
    const input = noise(0.1, 0.5, 16000);
    const { output } = await processBlock([step], [input], 16000, 999);
    expect([...output[0].slice(0, 5)]).toEqual([...input.slice(0, 5)].map((x) => Math.fround(-2 * x)));
    const half = await processBlock([{ ...step, mix: 0.5 }], [input], 16000);
    expect(half.output[0][7]).toBeCloseTo(-0.5 * input[7], 6);
    expect(stepOf(step)!.title).toBe('Handmade');
    expect(stepOf(step)!.describe({ factor: -2 })).toBe('factor \u22122');
    const [fault] = chainFaults([{ ...step, on: true, mix: 1, settings: { ...step.settings, factor: 3 } }]);
    expect(fault).toMatchObject({ code: 'bad-setting', setting: 'factor', minimum: -2, maximum: 2 });
  });

  it('is told of switches and words by numbers', () => {
    const properties = {
      flip: { type: 'boolean', title: 'Flip', default: false },
      much: { type: 'string', title: 'Much', enum: ['little', 'all'], default: 'little', labels: { all: 'All of it' } },
    };
    const step = known(
      handmadeModule({
        manifest: { ...handmadeManifest, settings: { properties } },
        functions: { set: KEEP_SETTING, process: { params: [I32], code: TIMES_SETTING } },
      }),
    );
    const run = (settings: object) => {
      const definition = stepOf(step)!;
      const parsed = definition.settings.parse({ ...step.settings, ...settings });
      const block = [Float32Array.of(0.5)];
      definition.start(parsed, { sampleRateHz: 8000, channels: 1 }, {}).process(block);
      return block[0][0];
    };
    // the last setting is what it multiplies by: the place of the word
    expect([run({ much: 'all' }), run({ much: 'little' })]).toEqual([0.5, 0]);
    expect(stepOf(step)!.describe({ flip: true, much: 'all' })).toBe('flip, much All of it');
  });

  it('studies first, and what it found goes to whoever processes, through JSON', async () => {
    // what it hears is counted in address 0; the first channel is multiplied by what it found
    const counts = [...code.i32(0), ...code.i32(0), ...code.loadF64, ...code.local(0), 0xb7, 0xa0, ...code.storeF64];
    const bytes = handmadeModule({
      manifest: { ...handmadeManifest, findings: [{ name: 'frames', title: 'Frames', unit: '' }] },
      functions: {
        hear: { params: [I32], code: counts },
        conclude: { code: [] },
        finding: { params: [I32], results: [F64], code: [...code.i32(0), ...code.loadF64] },
        find: KEEP_SETTING,
        process: { params: [I32], code: TIMES_SETTING },
      },
    });
    const { output, reports } = await processBlock([known(bytes)], [new Float32Array(9000).fill(0.001)], 16000, 5000);
    expect(reports[0].findings).toEqual({ frames: 9000 });
    expect(output[0][8999]).toBeCloseTo(9, 4);
  });

  it('states latency and tail, which the chain takes off and lets out', async () => {
    const late = known(timesFactor({ latency: { frames: 3 }, tail: { milliseconds: 10 } }), undefined, { factor: 1 });
    const input = noise(0.1, 0.1, 16000);
    const { output } = await processBlock([late], [input], 16000);
    expect(output[0].length).toBe(1600 + 160);
    expect(output[0][0]).toBe(input[3]);
  });

  it('keeps the step contract', () => {
    const checks = checkModule(readModuleFile(timesFactor(), 'a.wasm'), hash('a'));
    expect(checks.map(({ fails }) => fails)).toEqual(checks.map(() => null));
    expect(checks.length).toBeGreaterThanOrEqual(7);
  });

  it('keeps its buffers where its memory grows', async () => {
    const step = known(
      handmadeModule({
        memory: { initial: 4, maximum: 8 },
        functions: { process: { params: [I32], code: [...code.grow] } },
      }),
    );
    const input = noise(0.1, 2, 16000);
    expect((await processBlock([step], [input], 16000, 1000)).output[0]).toEqual(input);
  });
});

describe('what is no module is refused in words', () => {
  it.each<[string, Uint8Array, string]>([
    ['text', Uint8Array.from([104, 101, 108, 108, 111]), 'not-webassembly'],
    ['nothing', new Uint8Array(0), 'not-webassembly'],
    ['half a module', handmadeModule().subarray(0, 60), 'not-webassembly'],
    ['one that imports', handmadeModule({ imports: [{ module: 'env', name: 'fetch' }] }), 'module-imports'],
    ['one without a manifest', handmadeModule({ manifest: null }), 'no-manifest'],
    ['a manifest that is no JSON', handmadeModule({ section: Uint8Array.of(123, 34) }), 'bad-manifest'],
    ['a manifest that is no UTF-8', handmadeModule({ section: Uint8Array.of(0xff) }), 'bad-manifest'],
    [
      'a newer interface',
      handmadeModule({ manifest: { ...handmadeManifest, format: 'tonos.module/2' } }),
      'newer-module',
    ],
    [
      'a default out of range',
      timesFactor({ settings: { properties: { factor: { ...factor.settings.properties.factor, default: 9 } } } }),
      'bad-manifest',
    ],
    [
      'a setting called module',
      timesFactor({ settings: { properties: { module: factor.settings.properties.factor } } }),
      'bad-manifest',
    ],
    ['settings that nobody takes', handmadeModule({ manifest: { ...handmadeManifest, ...factor } }), 'missing-exports'],
    ['no memory', handmadeModule({ withoutMemory: true }), 'missing-exports'],
    ['memory without an end', handmadeModule({ memory: { initial: 4 } }), 'module-memory'],
    ['too much memory', handmadeModule({ memory: { initial: 4, maximum: 1025 } }), 'module-memory'],
    ['too large a file', handmadeModule({ section: new Uint8Array(9 * 2 ** 20) }), 'module-too-large'],
  ])('%s', (_, bytes, expected) => {
    const read = () => readModuleFile(bytes, 'odd.wasm');
    expect(read).toThrow(expect.objectContaining({ code: expected, message: expect.stringContaining('odd.wasm') }));
  });

  it('whatever bytes come, it ends in words', () => {
    const good = handmadeModule();
    fc.assert(
      fc.property(fc.nat(good.length - 1), fc.nat(255), (at, byte) => {
        const bytes = good.slice();
        bytes[at] = byte;
        try {
          readModuleFile(bytes, 'a.wasm');
        } catch (error) {
          expect((error as Error).name).toBe('ModuleError');
        }
      }),
    );
  });
});

describe('one that misbehaves', () => {
  const processing = (instructions: readonly number[]) =>
    handmadeModule({ functions: { process: { params: [I32], code: instructions } } });
  const run = (step: ReturnType<typeof known>, channels = 1) =>
    processBlock(
      [step],
      Array.from({ length: channels }, () => noise(0.1, 0.2, 16000)),
      16000,
    );

  it('traps: the render fails with its name', async () => {
    await expect(run(known(processing(code.trap)))).rejects.toMatchObject({
      code: 'module-failed',
      message: expect.stringMatching(/“Handmade” 1\.0 broke off/),
    });
  });

  it('makes NaN: silence goes on instead, and the check says so', async () => {
    const bytes = processing([...code.i32(1024), ...code.f32(Number.NaN), ...code.storeF32]);
    const { output } = await run(known(bytes));
    expect(output[0].every(Number.isFinite)).toBe(true);
    const checks = checkModule(readModuleFile(bytes, 'a.wasm'), hash('a'));
    expect(checks.flatMap(({ fails }) => fails ?? []).join()).toMatch(/bad samples/);
  });

  it('states a latency that is not there', () => {
    const checks = checkModule(readModuleFile(timesFactor({ latency: { frames: 200 } }), 'a.wasm'), hash('a'));
    expect(checks.find(({ promise }) => /latency/.test(promise))!.fails).toBe(
      'At 16000 Hz it is 0 frames late and states 200.',
    );
  });

  it('states channels that it refuses, and is given none that it does not state', async () => {
    // more than one channel: 1
    const refuses = { params: [F64, I32, I32], results: [I32], code: [...code.local(1), ...code.i32(1), 0x4a] };
    const bytes = handmadeModule({ functions: { prepare: refuses } });
    const [starts] = checkModule(readModuleFile(bytes, 'a.wasm'), hash('a'));
    expect(starts.fails).toMatch(/does not work at 8000 Hz with 2 channels/);
    await expect(run(known(timesFactor(), hash('b')), 2)).rejects.toMatchObject({ code: 'module-channels' });
  });

  it('says that its samples lie outside of its memory', async () => {
    const elsewhere = { params: [I32], results: [I32], code: code.i32(100_000_000) };
    await expect(run(known(handmadeModule({ functions: { input: elsewhere } })))).rejects.toMatchObject({
      code: 'module-memory',
    });
  });

  it('has exports of another shape', async () => {
    const odd = { params: [0x7e], code: [] };
    await expect(run(known(handmadeModule({ functions: { process: odd } })))).rejects.toMatchObject({
      code: 'module-failed',
    });
  });

  it('a watch sees from outside which one does not come back', () => {
    const words = new Int32Array(new SharedArrayBuffer(4 * WATCH_WORDS));
    const [watch, keeper] = [sharedWatch(words, 500), new WatchKeeper(words)];
    expect(keeper.overdue(0)).toBeUndefined();
    watch.enters(hash('b'), 0.1);
    expect(keeper.overdue(1000)).toBeUndefined();
    // fifty times a tenth of a second
    expect(keeper.overdue(5999)).toBeUndefined();
    const found = keeper.overdue(6001)!;
    expect([found(hash('a')), found(hash('b'))]).toEqual([false, true]);
    watch.leaves();
    expect(keeper.overdue(9000)).toBeUndefined();
    watch.enters(hash('a'), 0.0001);
    expect([keeper.overdue(9100), keeper.overdue(9601)].map(Boolean)).toEqual([false, true]);
  });
});

describe('a module that is not here', () => {
  const step = {
    kind: 'custom',
    on: true,
    mix: 1,
    settings: { module: { sha256: hash('c'), name: 'Gone', version: '2.1' }, much: 3 },
  };

  it('is named, with its hash, and its settings are not judged', () => {
    expect(chainFaults([step])).toEqual([
      expect.objectContaining({ code: 'missing-module', message: expect.stringMatching(/“Gone” 2\.1 \(cccc/) }),
    ]);
    expect(() => configureChain([step])).toThrow(expect.objectContaining({ code: 'missing-module' }));
  });

  it('is found in whatever holds steps, once', () => {
    const order = {
      parts: [{ chain: { steps: [step] } }, { chain: { steps: [step, { kind: 'gain', settings: {} }] } }],
    };
    expect(modulesIn(order)).toEqual([{ sha256: hash('c'), name: 'Gone', version: '2.1' }]);
  });

  it('known by its manifest only, it can be set but not run', async () => {
    const { manifest } = readModuleFile(timesFactor(), 'a.wasm');
    knowModule({ sha256: hash('c'), manifest });
    const chosen = { ...step, settings: { module: step.settings.module, factor: 1 } };
    expect(chainFaults([chosen])).toEqual([]);
    await expect(processBlock([chosen], [new Float32Array(10)], 8000)).rejects.toMatchObject({
      code: 'missing-module',
    });
  });
});
