import { type IncomingMessage, request as plain } from 'node:http';
import { request as secure } from 'node:https';
import { connect } from 'node:tls';
import type { AccountEntry } from '@tonos/contract';
import { selfSigned } from '../testing/certificate.ts';
import { freePort, TestServer } from '../testing/test-server.ts';

const PASSWORD = 'a lantern on the quay';

interface Said {
  status: number;
  headers: IncomingMessage['headers'];
  body: Record<string, unknown>;
}

const answered = (resolve: (said: Said) => void) => (answer: IncomingMessage) => {
  let text = '';
  answer.on('data', (bytes) => {
    text += bytes;
  });
  answer.on('end', () =>
    resolve({ status: answer.statusCode!, headers: answer.headers, body: text ? JSON.parse(text) : undefined }),
  );
};

describe('with a certificate of its own', () => {
  let server: TestServer;
  let origin: URL;
  const tls = selfSigned();
  beforeAll(async () => {
    const port = await freePort();
    origin = new URL(`https://127.0.0.1:${port}`);
    server = await TestServer.start({ port, shared: { origin, tls, proxies: [] } });
  });
  afterAll(() => server.remove());

  const ask = (method: string, path: string, headers: Record<string, string> = {}, body?: object) =>
    new Promise<Said>((resolve, reject) => {
      const options = { method, ca: tls.cert, headers: { 'content-type': 'application/json', ...headers } };
      secure(`${origin.origin}/api${path}`, options, answered(resolve))
        .on('error', reject)
        .end(body && JSON.stringify(body));
    });

  it('signs people in with a cookie that is bound to it, and tells browsers to come by https only', async () => {
    const token = new URL(server.setUpUrl!).searchParams.get('token');
    expect(server.setUpUrl).toMatch(/^https:/);
    const body = { token, name: 'Odile', password: PASSWORD };
    const entered = await ask('POST', '/setup', { origin: origin.origin }, body);
    expect(entered.status).toBe(201);
    const [cookie] = entered.headers['set-cookie']!;
    expect(cookie).toMatch(/^__Host-tonos=[\w-]{43}; Path=\/; HttpOnly; Secure; SameSite=Lax$/);
    expect(entered.headers['strict-transport-security']).toMatch(/^max-age=31536000/);
    const me = await ask('GET', '/me', { cookie: cookie.split(';')[0] });
    expect(me.body).toMatchObject({ name: 'Odile', role: 'owner' });
    // the same secret under a name that another host of the domain could set is nothing
    expect((await ask('GET', '/me', { cookie: cookie.split(';')[0].replace('__Host-', '') })).status).toBe(401);
  });

  it('speaks no TLS older than 1.2', async () => {
    const version = (most: 'TLSv1.1' | 'TLSv1.2' | 'TLSv1.3') =>
      new Promise<string | null>((resolve, reject) => {
        const socket = connect(
          {
            host: '127.0.0.1',
            port: Number(origin.port),
            ca: tls.cert,
            minVersion: 'TLSv1',
            maxVersion: most,
            ciphers: 'DEFAULT:@SECLEVEL=0',
          },
          () => {
            resolve(socket.getProtocol());
            socket.destroy();
          },
        );
        socket.on('error', reject);
      });
    expect(await version('TLSv1.2')).toBe('TLSv1.2');
    await expect(version('TLSv1.1')).rejects.toThrow(/version|alert|protocol/i);
  });
});

describe('behind a proxy', () => {
  const origin = new URL('https://tonos.example.org');
  const start = (proxies: string[]) => TestServer.start({ shared: { origin, tls: null, proxies } });
  /** As a proxy hands it on. */
  const ask = (server: TestServer, method: string, path: string, headers: Record<string, string> = {}, body?: object) =>
    new Promise<Said>((resolve, reject) => {
      const all = { host: origin.host, 'content-type': 'application/json', ...headers };
      plain(`${server.origin}/api${path}`, { method, headers: all }, answered(resolve))
        .on('error', reject)
        .end(body && JSON.stringify(body));
    });

  it('answers what the named proxy hands on, and believes it whom it speaks for', async () => {
    const server = await start(['127.0.0.1']);
    try {
      const token = new URL(server.setUpUrl!).searchParams.get('token');
      const from = { origin: origin.origin, 'x-forwarded-for': '198.51.100.1, 203.0.113.9' };
      const entered = await ask(server, 'POST', '/setup', from, { token, name: 'Odile', password: PASSWORD });
      expect(entered.status).toBe(201);
      const cookie = entered.headers['set-cookie']![0].split(';')[0];
      const { body } = await ask(server, 'GET', '/account', { cookie });
      // what the proxy saw, and not what a stranger wrote before it
      expect((body as unknown as AccountEntry[])[0].sentence).toMatch(/from 203\.0\.113\.9$/);
      expect((await ask(server, 'GET', '/health', { host: server.origin.replace('http://', '') })).status).toBe(403);
    } finally {
      await server.remove();
    }
  });

  it('refuses who comes past the proxy, whatever they say of themselves', async () => {
    const server = await start(['192.0.2.1']);
    try {
      for (const headers of [{}, { 'x-forwarded-for': '192.0.2.1' }, { forwarded: 'for=192.0.2.1' }] as Record<
        string,
        string
      >[])
        expect(await ask(server, 'GET', '/health', headers)).toMatchObject({
          status: 403,
          body: { code: 'past-the-proxy' },
        });
    } finally {
      await server.remove();
    }
  });
});
