import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Title } from '@tonos/contract';
import Libsql from 'libsql';
import { startServer } from './server.ts';
import { TestServer } from './testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const again = (change: object = {}) =>
  startServer({
    dataFolder: server.dataFolder,
    host: '127.0.0.1',
    port: 0,
    version: '0.0.0-test',
    threads: 2,
    uploadLimits: { fileBytes: 1000, files: 1 },
    report: () => {},
    ...change,
  });

it('P2: a second start on the same data touches nothing of the first one, and says why it ends', async () => {
  const { id } = (await server.call<Title>('POST', '/titles', { name: 'First', kind: 'podcast' })).body;
  const underWay = join(server.dataFolder, 'tmp', 'under-way.part');
  await writeFile(underWay, 'bytes of the first');
  await expect(again()).rejects.toThrow(/Another Tonos is working in .*TONOS_DATA/);
  expect(await readFile(underWay, 'utf8')).toBe('bytes of the first');
  expect((await server.call<Title>('GET', `/titles/${id}`)).status).toBe(200);
  // the lock is free again as soon as the first one is gone
  await server.close();
  await (await again()).close();
  await server.open();
});

it('P2: a server that was killed leaves no lock behind', async () => {
  const { dataFolder } = server;
  await server.close();
  const program = `
    import Libsql from 'libsql';
    const database = new Libsql(process.argv[1]);
    database.exec('BEGIN EXCLUSIVE');
    console.log('locked');
    setInterval(() => {}, 1000);`;
  const first = spawn(process.execPath, ['--input-type=module', '-e', program, join(dataFolder, 'in-use.sqlite')], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await once(first.stdout, 'data');
  await expect(again()).rejects.toThrow(/Another Tonos/);
  first.kill('SIGKILL');
  await once(first, 'exit');
  await server.open();
  expect((await server.call('GET', '/health')).status).toBe(200);
});

it('does not start on data that a newer version has used, and changes nothing of it', async () => {
  const { dataFolder } = server;
  await server.close();
  const database = new Libsql(join(dataFolder, 'tonos.sqlite'));
  database.exec("INSERT INTO migrations (timestamp, name) VALUES (1999000000000, 'Later1999000000000')");
  database.exec('CREATE TABLE later (id)');
  database.close();
  const before = await readFile(join(dataFolder, 'tonos.sqlite'));
  await expect(again()).rejects.toThrow(/last used by a newer Tonos.*TONOS_DATA/);
  expect(await readFile(join(dataFolder, 'tonos.sqlite'))).toEqual(before);
  const back = new Libsql(join(dataFolder, 'tonos.sqlite'));
  back.exec("DELETE FROM migrations WHERE name = 'Later1999000000000'");
  back.close();
  await server.open();
});

it('says which folder can\u2019t be made', async () => {
  const file = join(server.dataFolder, 'a-file');
  await writeFile(file, '');
  const dataFolder = join(file, 'data');
  await expect(again({ dataFolder })).rejects.toThrow(/a-file.data can't be made: ENOTDIR.*TONOS_DATA/);
});

it('P5: does not start on an address that a network reaches', async () => {
  for (const host of ['0.0.0.0', '192.168.1.5', '::'])
    await expect(again({ host })).rejects.toThrow(/others on the network reach.*TONOS_SHARED=1/);
});

it('P28: lets pages take nothing from elsewhere, fonts neither', async () => {
  const { headers } = await fetch(`${server.origin}/api/health`);
  const policy = headers.get('content-security-policy')!;
  expect(policy).toContain("font-src 'self'");
  expect(policy).not.toMatch(/https?:/);
});
