import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Recording, Title } from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let webFolder: string;
beforeAll(async () => {
  webFolder = await mkdtemp(join(tmpdir(), 'tonos-web-'));
  await writeFile(join(webFolder, 'index.html'), '<title>Tonos</title>');
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
