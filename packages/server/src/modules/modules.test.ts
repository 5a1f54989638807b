import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Chain, Problem, ProcessorModule, Run, TrashEntry } from '@tonos/contract';
import { forgetModule } from '@tonos/core';
import { code, handmadeManifest, handmadeModule, noise, wasmTypes } from '@tonos/core/testing';
import { TestServer, wavFile } from '../testing/test-server.ts';

const { I32, F64 } = wasmTypes;
const TILT = new URL('../../../module-kit/tilt/tilt.wasm', import.meta.url);

let server: TestServer;
beforeEach(async () => {
  server = await TestServer.start();
});
afterEach(() => server.remove());

async function bringIn<T = ProcessorModule>(bytes: Uint8Array, name = 'a.wasm', on = server) {
  const response = await fetch(`${on.origin}/api/modules?name=${encodeURIComponent(name)}`, {
    method: 'POST',
    headers: { 'content-type': 'application/wasm' },
    body: Buffer.from(bytes),
  });
  return { status: response.status, body: (await response.json()) as T };
}
const tilt = async (on?: TestServer) => (await bringIn(await readFile(TILT), 'tilt.wasm', on)).body;
const list = async () => (await server.call<ProcessorModule[]>('GET', '/modules')).body;
const named = ({ sha256, manifest: { name, version } }: ProcessorModule) => ({ sha256, name, version });
const chainOf = async (settings: object, on = server) =>
  (await on.call<Chain>('POST', '/chains', { name: 'Own', steps: [{ kind: 'custom', settings }] })).body;

async function titleWith(rates: readonly number[]) {
  const { body: title } = await server.call<{ id: string }>('POST', '/titles', { name: 'Weir', kind: 'podcast' });
  const form = new FormData();
  for (const rate of rates) form.append('files', await wavFile(`at ${rate}.wav`, noise(0.1, 2, rate), rate));
  await server.call('POST', `/titles/${title.id}/recordings`, form);
  const path = `/titles/${title.id}/recordings`;
  const all = await server.until<{ id: string; status: string }[]>(path, (some) =>
    some.every((one) => one.status === 'ready'),
  );
  return { titleId: title.id, recordingIds: all.map(({ id }) => id) };
}

async function startRun(chainId: string, from: { titleId: string; recordingIds: string[] }) {
  const targets = (await server.call<{ id: string }[]>('GET', '/targets')).body;
  return server.call<{ id: string; code: string; detail: string }>('POST', '/runs', {
    ...from,
    chainId,
    targetId: targets[0].id,
  });
}

it('brings one in, says what it is, gives it out, and knows it after another start', async () => {
  const made = await tilt();
  expect(made).toMatchObject({
    fileName: 'tilt.wasm',
    bytes: (await readFile(TILT)).length,
    manifest: { name: 'Tilt' },
  });
  expect((await tilt()).id).toBe(made.id);
  expect(await list()).toHaveLength(1);
  const file = await fetch(`${server.origin}/api/modules/${made.sha256}/file`);
  expect(Buffer.from(await file.arrayBuffer()).equals(await readFile(TILT))).toBe(true);
  forgetModule(made.sha256);
  await server.close();
  await server.open();
  const wrong = await server.call<Problem>('POST', '/chains', {
    name: 'Own',
    steps: [{ kind: 'custom', settings: { module: named(made), tiltDb: 40 } }],
  });
  expect(wrong).toMatchObject({ status: 422, body: { faults: [{ setting: 'tiltDb', minimum: -12, maximum: 12 }] } });
});

it('refuses what is none, and what does not keep the contract; nothing of it stays', async () => {
  const unlike = { ...handmadeManifest, latency: { frames: 300 } };
  const loops = { process: { params: [I32], code: code.forEver } };
  for (const [bytes, expected, words] of [
    [Buffer.from('hello'), 'not-webassembly', /odd\.wasm/],
    [handmadeModule({ imports: [{ module: 'env', name: 'read' }] }), 'module-imports', /env\.read/],
    [
      handmadeModule({ manifest: { ...handmadeManifest, format: 'tonos.module/9' } }),
      'newer-module',
      /tonos\.module\/9/,
    ],
    [handmadeModule({ manifest: unlike }), 'breaks-contract', /states its real latency: no/],
    [handmadeModule({ functions: loops }), 'module-hangs', /does not come back/],
  ] as const)
    expect(await bringIn<Problem>(bytes, 'odd.wasm')).toMatchObject({
      status: 422,
      body: { code: expected, detail: expect.stringMatching(words) },
    });
  expect(await list()).toEqual([]);
  expect((await bringIn<Problem>(new Uint8Array(9 * 2 ** 20))).status).toBe(413);
  for (const folder of ['blobs', 'tmp']) expect(await readdir(join(server.dataFolder, folder))).toEqual([]);
});

it('renders with one, and names who uses it; what is used stays', async () => {
  const made = await tilt();
  const chain = await chainOf({ module: named(made), tiltDb: 6 });
  const from = await titleWith([16000]);
  const { body: started } = await startRun(chain.id, from);
  const run = await server.until<Run>(`/runs/${started.id}`, ({ status }) => status === 'finished');
  const [item] = run.items;
  expect(item.error).toBeNull();
  expect(item.findings!.map(({ kind }) => kind)).toContain('custom');
  const [{ usedBy }] = await list();
  expect(usedBy).toEqual({ chains: [{ id: chain.id, name: 'Own' }], orders: [], presets: 0 });
  const kept = await server.call<Problem>('DELETE', `/modules/${made.id}`);
  expect(kept).toMatchObject({ status: 409, body: { code: 'in-use', detail: expect.stringContaining('“Own”') } });
});

it('one that lies in the trash is missing: its chain is kept, a run names it, what was delivered stays', async () => {
  const made = await tilt();
  const chain = await chainOf({ module: named(made), tiltDb: 3 });
  const from = await titleWith([16000]);
  const { body: run } = await startRun(chain.id, from);
  const done = await server.until<Run>(`/runs/${run.id}`, ({ status }) => status === 'finished');
  await server.call('POST', `/chains/${chain.id}/revisions`, { steps: [], note: '' });
  expect((await server.call('DELETE', `/modules/${made.id}`)).status).toBe(204);
  const refused = await server.call<Problem>('POST', '/runs', {
    ...from,
    chainId: chain.id,
    revision: 1,
    targetId: done.targetId,
  });
  expect(refused).toMatchObject({
    status: 422,
    body: { code: 'missing-module', detail: expect.stringMatching(/“Tilt” 1\.0/) },
  });
  const output = `/api/runs/${run.id}/items/${done.items[0].id}/output`;
  expect((await fetch(server.origin + output)).status).toBe(200);
  const [trashed] = (await server.call<TrashEntry[]>('GET', '/trash')).body;
  expect(trashed).toMatchObject({ kind: 'module', name: 'Tilt 1.0', bytes: made.bytes });
  await server.call('POST', '/trash/restore', { kind: 'module', id: made.id });
  expect((await startRun(chain.id, from)).status).toBe(201);
});

it('on an installation without it a chain is kept with its settings, and refused by name', async () => {
  const elsewhere = { sha256: 'f'.repeat(64), name: 'House colour', version: '2.0' };
  const chain = await chainOf({ module: elsewhere, muchDb: 99 });
  expect(chain.steps[0].settings).toEqual({ module: elsewhere, muchDb: 99 });
  const { status, body } = await startRun(chain.id, await titleWith([16000]));
  expect([status, body.code]).toEqual([422, 'missing-module']);
  expect(body.detail).toMatch(/“House colour” 2\.0/);
});

it('one that hangs at a rate of its own ends its item with its name, and no other', async () => {
  // keeps its rate at address 8, and never comes back at 11025 Hz
  const prepare = {
    params: [F64, I32, I32],
    results: [I32],
    code: [...code.i32(8), ...code.local(0), ...code.storeF64, ...code.i32(0)],
  };
  const sly = [...code.i32(8), ...code.loadF64, ...code.f64(11025), 0x61, 0x04, 0x40, ...code.forEver, 0x0b];
  const made = (await bringIn(handmadeModule({ functions: { prepare, process: { params: [I32], code: sly } } }))).body;
  const chain = await chainOf({ module: named(made) });
  const { body: started } = await startRun(chain.id, await titleWith([16000, 11025, 22050]));
  const run = await server.until<Run>(`/runs/${started.id}`, ({ status }) => status === 'finished');
  expect(run.items.map(({ error }) => (error as { code?: string } | null)?.code ?? null)).toEqual([
    null,
    'module-hangs',
    null,
  ]);
  expect(JSON.stringify(run.items[1].error)).toMatch(/at 11025\.wav.*“Handmade” 1\.0 does not come back/);
});
