import type { TokenMade } from '@tonos/contract';
import { realSurroundings } from '../surroundings.ts';
import { TestPerson } from '../testing/person.ts';
import { TestServer } from '../testing/test-server.ts';

const HOUR = 3600_000;
const DAY = 24 * HOUR;

/** Time as it is told to the server: tests move on through it. */
let shift: number;
let server: TestServer;
let owner: TestPerson;
beforeEach(async () => {
  shift = 0;
  const now = () => new Date(Date.now() + shift).toISOString();
  server = await TestServer.startShared({ surroundings: { ...realSurroundings, now } });
});
afterEach(() => server.remove());

const isIn = async (person: TestPerson) => (await person.call('GET', '/me')).status === 200;
const tokenOf = (url: string) => new URL(url).searchParams.get('token')!;

it('a session ends after twelve hours in which nobody used it, and after thirty days whoever did', async () => {
  owner = await TestPerson.owner(server);
  shift = 11 * HOUR;
  expect(await isIn(owner)).toBe(true);
  shift = 22 * HOUR; // eleven since it was used
  expect(await isIn(owner)).toBe(true);
  shift = 35 * HOUR;
  expect(await isIn(owner)).toBe(false);
  shift = 0;
  expect(await isIn(owner)).toBe(false); // it does not come back with the clock

  await owner.signIn();
  for (shift = 0; shift < 30 * DAY; shift += 10 * HOUR) expect(await isIn(owner)).toBe(true);
  shift = 30 * DAY + HOUR;
  expect(await isIn(owner)).toBe(false);
});

it('over a restart it ends at the same time', async () => {
  owner = await TestPerson.owner(server);
  shift = 11 * HOUR;
  await server.close();
  await server.open();
  expect(await isIn(owner)).toBe(true);
  shift = 24 * HOUR;
  await server.close();
  await server.open();
  expect(await isIn(owner)).toBe(false);
});

it('a clock that is set an hour on or back ends nothing', async () => {
  owner = await TestPerson.owner(server);
  for (const hours of [1, -1, 0]) {
    shift = hours * HOUR;
    expect(await isIn(owner)).toBe(true);
  }
  expect((await owner.call('POST', '/titles', { name: 'Still', kind: 'podcast' })).status).toBe(201);
});

it('the set-up link is good for an hour', async () => {
  const body = { token: tokenOf(server.setUpUrl!), name: 'Late', password: 'a lantern on the quay' };
  shift = HOUR + 60_000;
  expect((await new TestPerson(server, 'Late').call('POST', '/setup', body)).status).toBe(410);
  shift = HOUR - 60_000;
  expect((await new TestPerson(server, 'Late').call('POST', '/setup', body)).status).toBe(201);
});

it('an invitation is good for seven days, a way back for one, a token until its end', async () => {
  owner = await TestPerson.owner(server);
  const made = (path: string, body?: object) => owner.call<{ url: string }>('POST', path, body);
  const join = tokenOf((await made('/invitations', { role: 'lead' })).body.url);
  const back = tokenOf((await made(`/people/${owner.id}/way-back`)).body.url);
  const { token } = (await owner.call<TokenMade>('POST', '/tokens', { name: 'b', role: 'owner', days: 2 })).body;
  const script = new TestPerson(server, 'script');
  const byToken = async () => (await script.call('GET', '/me', undefined, { authorization: `Bearer ${token}` })).status;
  const joins = async () => {
    const body = { token: join, name: 'Mira Osten', password: 'a lantern on the quay' };
    return (await new TestPerson(server, 'x').call('POST', '/invitations/accept', body)).status;
  };
  const comesBack = async () => {
    const body = { token: back, password: 'seven herons at low tide' };
    return (await new TestPerson(server, 'x').call('POST', '/session/way-back', body)).status;
  };
  shift = 2 * DAY - HOUR;
  expect(await byToken()).toBe(200);
  expect(await comesBack()).toBe(410);
  shift = 2 * DAY + HOUR;
  expect(await byToken()).toBe(401);
  shift = 7 * DAY + HOUR;
  expect(await joins()).toBe(410);
  shift = 7 * DAY - HOUR;
  expect(await joins()).toBe(201);
});
