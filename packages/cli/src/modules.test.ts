import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { code, handmadeManifest, handmadeModule, noise, wasmTypes } from '@tonos/core/testing';
import { commandIn, saved, writtenTo } from './testing/command.ts';

const { I32, F64 } = wasmTypes;
const TILT = join(import.meta.dirname, '../../module-kit/tilt/tilt.wasm');

let folder: string;
const tonos = commandIn(() => folder);
const path = (name: string) => join(folder, name);
const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** A chain file with one module, which lies where it is told. */
function chainWith(bytes: Uint8Array, settings: object = {}, version = '1.0'): string {
  const module = { sha256: hashOf(bytes), name: 'Own', version };
  return writtenTo(path('own.json'), { name: 'Own', steps: [{ kind: 'custom', settings: { module, ...settings } }] });
}

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'tonos-modules-'));
  for (const rate of [11025, 16000]) await saved(path(`${rate}.wav`), noise(0.05, 2, rate), rate);
});
afterEach(() => rmSync(folder, { recursive: true }));

it('checks a module, and says which promise it does not keep', () => {
  const good = tonos('module', 'check', TILT);
  expect([good.status, good.stdout]).toEqual([
    0,
    expect.stringMatching(/^Tilt 1\.0, [0-9a-f]{64}\n(.*\n)*.*keeps all \d+ promises/),
  ]);
  writeFileSync(path('late.wasm'), handmadeModule({ manifest: { ...handmadeManifest, latency: { frames: 100 } } }));
  const late = tonos('module', 'check', path('late.wasm'), '--json');
  expect(late.status).toBe(1);
  const { checks } = JSON.parse(late.stdout) as { checks: { promise: string; fails: string | null }[] };
  expect(checks.flatMap(({ fails }) => fails ?? [])).toEqual(['At 16000 Hz it is 0 frames late and states 100.']);
});

it('says of what is no module why, and ends one that does not come back', () => {
  writeFileSync(path('loop.wasm'), handmadeModule({ functions: { process: { params: [I32], code: code.forEver } } }));
  const loop = tonos('module', 'check', path('loop.wasm'));
  expect([loop.status, loop.stderr]).toEqual([1, expect.stringMatching(/does not come back, and was ended/)]);
  for (const [name, words] of [
    ['own.txt', /no WebAssembly module/],
    ['gone.wasm', /no such file/],
  ] as const) {
    if (name === 'own.txt') writeFileSync(path(name), 'hello');
    const { status, stderr } = tonos('module', 'check', path(name));
    expect([status, stderr]).toEqual([3, expect.stringMatching(words)]);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  }
});

it('renders with a module that lies beside the chain, or where one says', () => {
  const bytes = readFileSync(TILT);
  const chain = chainWith(bytes, { tiltDb: 6 });
  const missing = tonos('render', '--chain', chain, '--out', path('out'), path('16000.wav'));
  expect([missing.status, missing.stderr]).toEqual([2, expect.stringMatching(/“Own” 1\.0 .* is not here/)]);
  mkdirSync(path('modules'));
  writeFileSync(path('modules/tilt.wasm'), bytes);
  const there = tonos(
    'render',
    '--chain',
    chain,
    '--modules',
    path('modules'),
    '--out',
    path('out'),
    path('16000.wav'),
    '--json',
  );
  expect([there.status, there.stderr]).toEqual([0, '']);
  writeFileSync(path('any name.wasm'), bytes);
  const beside = tonos('render', '--chain', chain, '--out', path('again'), path('16000.wav'), '--json');
  expect(beside.json()[0].after).toEqual(there.json()[0].after);
});

it('one that hangs on one file ends that file with its name, and no other', () => {
  const prepare = {
    params: [F64, I32, I32],
    results: [I32],
    code: [...code.i32(8), ...code.local(0), ...code.storeF64, ...code.i32(0)],
  };
  const sly = [...code.i32(8), ...code.loadF64, ...code.f64(11025), 0x61, 0x04, 0x40, ...code.forEver, 0x0b];
  const bytes = handmadeModule({ functions: { prepare, process: { params: [I32], code: sly } } });
  writeFileSync(path('own.wasm'), bytes);
  const { status, json, stderr } = tonos(
    ...['render', '--chain', chainWith(bytes), '--out', path('out'), '--json'],
    ...[path('11025.wav'), path('16000.wav')],
  );
  expect(status).toBe(3);
  expect(json()).toMatchObject([{ error: { code: 'module-hangs' } }, { verdict: null, output: path('out/16000.wav') }]);
  expect(stderr).toMatch(/11025\.wav.*“Own” 1\.0 does not come back/);
});
