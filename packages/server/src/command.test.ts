import { spawn } from 'node:child_process';
import { cp, mkdtemp, readdir, readFile, rm, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Chain, Recording, Run, Title, TokenMade } from '@tonos/contract';
import { TestPerson } from './testing/person.ts';
import { TestServer, voiceFile } from './testing/test-server.ts';

/** The command beside a server that runs: work sent to it, and its data brought away and back. */

const BIN = join(import.meta.dirname, '../../cli/bin/tonos.mjs');

function tonos(args: string[], env: Record<string, string> = {}) {
  return new Promise<{ status: number | null; stdout: string; stderr: string }>((resolve) => {
    const child = spawn(process.execPath, [BIN, ...args], { env: { ...process.env, ...env } });
    const said = { stdout: '', stderr: '' };
    child.stdout.on('data', (bytes) => {
      said.stdout += bytes;
    });
    child.stderr.on('data', (bytes) => {
      said.stderr += bytes;
    });
    child.on('close', (status) => resolve({ status, ...said }));
  });
}

let folder: string;
let server: TestServer;
let owner: TestPerson;
let title: Title;
let token: string;
const at = (name: string) => join(folder, name);
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-command-'));
  for (const [name, seconds] of [
    ['one.wav', 3],
    ['two.wav', 4],
  ] as const)
    await writeFile(at(name), Buffer.from(await (await voiceFile(name, seconds)).arrayBuffer()));
  await writeFile(at('junk.wav'), 'no sound at all');
  server = await TestServer.startShared();
  owner = await TestPerson.owner(server);
  title = (await owner.call<Title>('POST', '/titles', { name: 'Night Shift', kind: 'podcast' })).body;
  await owner.call<Chain>('POST', '/chains', { name: 'Voice', steps: [] });
  token = (await owner.call<TokenMade>('POST', '/tokens', { name: 'build', role: 'engineer', days: 1 })).body.token;
});
afterAll(async () => {
  await server.remove();
  await rm(folder, { recursive: true });
});

const args = (files: string[], rest: Record<string, string> = {}) => {
  const named = {
    server: server.origin,
    title: 'Night Shift',
    chain: 'Voice',
    target: 'Podcast, mono',
    out: at('out'),
    ...rest,
  };
  return ['run', ...Object.entries(named).flatMap(([key, value]) => [`--${key}`, value]), '--json', ...files.map(at)];
};
const env = () => ({ TONOS_TOKEN: token });
const sentTo = async () => (await owner.call<Recording[]>('GET', `/titles/${title.id}/recordings`)).body.length;

it('sends, runs, waits and fetches what is within; each file keeps its place', async () => {
  const { status, stdout, stderr } = await tonos(args(['one.wav', 'junk.wav', 'missing.wav', 'two.wav']), env());
  expect(status).toBe(3);
  const results = JSON.parse(stdout) as Record<string, unknown>[];
  expect(results.map(({ file, verdict, error }) => [file, verdict ?? (error as { code: string }).code])).toEqual([
    [at('one.wav'), 'within'],
    [at('junk.wav'), expect.any(String)],
    [at('missing.wav'), expect.any(String)],
    [at('two.wav'), 'within'],
  ]);
  expect((await readdir(at('out'))).sort()).toEqual(['one.mp3', 'two.mp3']);
  const { runId, itemId, after } = results[0] as { runId: string; itemId: string; after: { integratedLufs: number } };
  expect(after.integratedLufs).toBeCloseTo(-19, 0);
  const delivered = await owner.fetch(`/runs/${runId}/items/${itemId}/output`);
  expect(Buffer.from(await delivered.arrayBuffer()).equals(await readFile(at('out/one.mp3')))).toBe(true);
  expect(stderr).toContain('3 of 3 rendered');
  expect(await sentTo()).toBe(3);
  // nothing is overwritten
  const again = await tonos(args(['one.wav']), env());
  expect(again.status).toBe(0);
  expect((await readdir(at('out'))).sort()).toEqual(['one (2).mp3', 'one.mp3', 'two.mp3']);
});

it.each([
  ['an unknown title', { title: 'Day Shift' }, /has no title “Day Shift”. It has “Night Shift”/],
  ['an unknown chain', { chain: 'Void' }, /has no chain “Void”/],
  ['an unknown target', { target: 'Void' }, /has no target “Void”/],
  ['no address', { server: 'tonos' }, /is no address/],
])('ends with 2, and sends nothing, for %s', async (_, rest, message) => {
  const before = await sentTo();
  const { status, stderr, stdout } = await tonos(args(['one.wav'], rest), env());
  expect([status, stdout]).toEqual([2, '']);
  expect(stderr).toMatch(message);
  expect(await sentTo()).toBe(before);
});

it('ends with 2 without a token that is good', async () => {
  for (const wrong of ['', `tns_${'a'.repeat(43)}`]) {
    const { status, stderr } = await tonos(args(['one.wav']), { TONOS_TOKEN: wrong });
    expect([status, stderr]).toEqual([2, expect.stringContaining('TONOS_TOKEN')]);
    expect(stderr).not.toContain('tns_a');
  }
});

it('backs a server up while it renders, only what is new the second time, and brings it back whole', async () => {
  const form = new FormData();
  for (const seed of [1, 2, 3]) form.append('files', await voiceFile(`late ${seed}.wav`, 8, seed));
  const added = (await owner.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const chains = (await owner.call<Chain[]>('GET', '/chains')).body;
  const targets = (await owner.call<{ id: string; name: string }[]>('GET', '/targets')).body;
  const started = await owner.call<Run>('POST', '/runs', {
    titleId: title.id,
    recordingIds: added.map(({ id }) => id),
    chainId: chains[0].id,
    targetId: targets.find(({ name }) => name === 'Podcast, mono')!.id,
  });
  const first = await tonos(['backup', '--to', at('backup')], { TONOS_DATA: server.dataFolder });
  expect(first).toMatchObject({ status: 0, stderr: '' });
  for (;;) {
    const { body } = await owner.call<Run>('GET', `/runs/${started.body.id}`);
    if (body.status === 'finished') break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  const second = await tonos(['backup', '--to', at('backup')], { TONOS_DATA: server.dataFolder });
  expect(second.status).toBe(0);
  const newFiles = Number(/and (\d+) new files/.exec(second.stdout)![1]);
  expect(newFiles).toBeLessThanOrEqual(3);
  expect((await tonos(['restore', '--from', at('backup')], { TONOS_DATA: server.dataFolder })).status).toBe(2);
  // brought back elsewhere, and started there
  const elsewhere = at('elsewhere');
  expect((await tonos(['restore', '--from', at('backup')], { TONOS_DATA: elsewhere })).status).toBe(0);
  const { dataFolder } = server;
  await server.close();
  await rm(dataFolder, { recursive: true });
  await cp(elsewhere, dataFolder, { recursive: true });
  await server.open();
  expect((await owner.call('GET', '/me')).status).toBe(200);
  const run = (await owner.call<Run>('GET', `/runs/${started.body.id}`)).body;
  expect(run.items.map(({ status }) => status)).toEqual(['within', 'within', 'within']);
  for (const { id, output } of run.items) {
    const bytes = Buffer.from(await (await owner.fetch(`/runs/${run.id}/items/${id}/output`)).arrayBuffer());
    expect(bytes.length).toBe(output!.sizeBytes);
  }
  expect((await owner.call('POST', '/storage/check')).body).toMatchObject({ faults: [] });
}, 120_000);

it('says what of a backup is damaged, and brings the rest back', async () => {
  const blobs = at('backup/blobs');
  const [name] = await readdir(blobs);
  await truncate(join(blobs, name), 100);
  const { status, stderr } = await tonos(['restore', '--from', at('backup')], { TONOS_DATA: at('again') });
  expect(status).toBe(3);
  expect(stderr).toMatch(/is damaged/);
  expect((await readdir(at('again/blobs'))).length).toBe((await readdir(blobs)).length - 1);
  expect((await tonos(['restore', '--from', at('nothing')], { TONOS_DATA: at('third') })).status).toBe(2);
  expect((await tonos(['backup', '--to', at('b')], { TONOS_DATA: at('nothing') })).status).toBe(2);
});

it('makes a token by which a machine works along, beside a server that runs, and ends it at once', async () => {
  const env = { TONOS_DATA: server.dataFolder };
  const hello = {
    id: 'b0c1a7de-6c2f-4c1b-8d15-2f3f5f0e7a01',
    name: 'attic',
    version: '0.0.0-test',
    threads: 2,
    cacheLimitBytes: 1e9,
  };
  const speak = async (secret: string) =>
    (await server.call('POST', '/work/hello', hello, { authorization: `Bearer ${secret}` })).status;
  const made = await tonos(['worker-token', '--name', 'attic'], env);
  expect([made.status, made.stdout]).toEqual([0, expect.stringMatching(/^tnw_[\w-]{43}\n$/)]);
  expect(await speak(made.stdout.trim())).toBe(200);
  expect((await owner.call<{ name: string }[]>('GET', '/worker-tokens')).body.map(({ name }) => name)).toEqual([
    'attic',
  ]);
  expect((await tonos(['worker-token', '--revoke', 'attic'], env)).status).toBe(0);
  expect(await speak(made.stdout.trim())).toBe(401);
  for (const wrong of [[], ['--name', 'a', '--revoke', 'a'], ['--revoke', 'nobody'], ['--name', ' ']])
    expect((await tonos(['worker-token', ...wrong], env)).status).toBe(2);
  const nowhere = await tonos(['worker-token', '--name', 'a'], { TONOS_DATA: at('out') });
  expect([nowhere.status, nowhere.stderr]).toEqual([2, expect.stringContaining('TONOS_DATA')]);
  // nor does a token of a person make a machine, or that of a machine a person
  expect(await speak(token)).toBe(401);
  const again = (await tonos(['worker-token', '--name', 'attic'], env)).stdout.trim();
  const asPerson = await server.call('GET', '/titles', undefined, { authorization: `Bearer ${again}` });
  expect(asPerson.status).toBe(401);
});
