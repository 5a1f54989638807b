import pino from 'pino';
import { TestPerson } from '../testing/person.ts';
import { TestServer } from '../testing/test-server.ts';

it('tells each call by who, what and how it ended, and no secret of any kind', async () => {
  const lines: string[] = [];
  const logger = pino({ level: 'info' }, { write: (line: string) => void lines.push(line) });
  const server = await TestServer.startShared({ logger });
  try {
    const { setUpUrl } = server;
    await fetch(setUpUrl!);
    const owner = await TestPerson.owner(server);
    const { body } = await owner.call<{ token: string }>('POST', '/tokens', { name: 'n', role: 'listener', days: 1 });
    const script = new TestPerson(server, 'script');
    await script.call('GET', '/account?since=2026-01-01', undefined, { authorization: `Bearer ${body.token}` });
    await script.signIn('a password that is wrong');
    await script.call('GET', '/titles');
    const told = lines.map((line) => JSON.parse(line) as { req: object; res: object; personId: string | null });
    expect(told.map(({ req, res, personId }) => ({ ...req, ...res, personId }))).toEqual(
      expect.arrayContaining([
        { method: 'POST', path: '/api/setup', status: 201, personId: null },
        { method: 'POST', path: '/api/tokens', status: 201, personId: owner.id },
        { method: 'GET', path: '/api/account', status: 200, personId: owner.id },
        { method: 'POST', path: '/api/session', status: 401, personId: null },
        { method: 'GET', path: '/api/titles', status: 401, personId: null },
      ]),
    );
    const secrets = [
      new URL(setUpUrl!).searchParams.get('token')!,
      owner.cookie.split('=')[1],
      body.token,
      'that is wrong',
    ];
    for (const secret of secrets) expect(lines.join('')).not.toContain(secret);
  } finally {
    await server.remove();
  }
});
