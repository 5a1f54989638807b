import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Recording, Title } from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let webFolder: string;
beforeAll(async () => {
  webFolder = await mkdtemp(join(tmpdir(), 'tonos-web-'));
  await writeFile(join(webFolder, 'index.html'), '<title>Tonos</title>');
  await mkdir(join(webFolder, 'assets'));
  await writeFile(join(webFolder, 'assets', 'program.js'), '');
  server = await TestServer.start({ webFolder });
});
afterAll(async () => {
  await server.remove();
  await rm(webFolder, { recursive: true });
});

it('what came from outside is given out as a file, and as nothing that a browser runs', async () => {
  const title = (await server.call<Title>('POST', '/titles', { name: 'A', kind: 'podcast' })).body;
  const form = new FormData();
  const voice = await voiceFile('a.html', 1);
  form.append('files', voice, '<script>alert(1)</script>.html');
  const [{ id }] = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  await server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready');
  const { headers } = await fetch(`${server.origin}/api/recordings/${id}/audio`);
  expect(headers.get('content-disposition')).toMatch(/^attachment; filename/);
  expect(headers.get('content-type')).toBe('audio/wav');
  expect(headers.get('x-content-type-options')).toBe('nosniff');
});

it('every answer says who may frame it, whom it is told from, and that nobody keeps it', async () => {
  const { headers } = await fetch(`${server.origin}/api/titles`);
  expect(headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
  expect(headers.get('content-security-policy')).not.toMatch(/script-src[^;]*'unsafe-/);
  expect(headers.get('referrer-policy')).toBe('no-referrer');
  expect(headers.get('cache-control')).toBe('no-store');
  expect(headers.get('access-control-allow-origin')).toBeNull();
  expect(headers.get('x-powered-by')).toBeNull();
});

it('every answer says how far changes had been told when it was asked for', async () => {
  const markOf = async (path: string) => (await fetch(`${server.origin}/api${path}`)).headers.get('tonos-mark');
  const before = await markOf('/titles');
  expect(await markOf('/targets')).toBe(before);
  await server.call('POST', '/titles', { name: 'One more', kind: 'podcast' });
  expect(await markOf('/titles')).not.toBe(before);
});

it('the program\u2019s files are kept by browsers for good, its document never, and neither is for another host', async () => {
  const answered = (path: string, host = new URL(server.origin).host) =>
    new Promise<{ status: number; kept: string | undefined }>((resolve, reject) => {
      const asked = request(`${server.origin}${path}`, { headers: { host } }, (answer) => {
        answer.resume();
        resolve({ status: answer.statusCode!, kept: answer.headers['cache-control'] });
      });
      asked.on('error', reject).end();
    });
  for (const path of ['/', '/titles']) expect(await answered(path)).toEqual({ status: 200, kept: 'no-cache' });
  const file = await answered('/assets/program.js');
  expect(file).toEqual({ status: 200, kept: 'public, max-age=31536000, immutable' });
  expect((await answered('/assets/gone.js')).status).toBe(404);
  for (const path of ['/', '/assets/program.js'])
    expect((await answered(path, 'elsewhere.example')).status).toBeGreaterThanOrEqual(400);
});

it('of the server\u2019s disk only the built page is served', async () => {
  for (const path of [
    '/.git/HEAD',
    '/..%2f..%2fpackage.json',
    '/%2e%2e/%2e%2e/etc/passwd',
    '/data/tonos.sqlite',
    '/package.json',
  ]) {
    const answer = await fetch(`${server.origin}${path}`);
    const text = await answer.text();
    expect([path, text.includes('Tonos</title>') || answer.status >= 400]).toEqual([path, true]);
    expect(text).not.toMatch(/"dependencies"|ref: refs|root:/);
  }
});
