import type { Me, Person } from '@tonos/contract';
import { TestPerson } from '../testing/person.ts';
import { StandInProvider } from '../testing/stand-in-provider.ts';
import { TestServer } from '../testing/test-server.ts';
import { providerOptions } from './provider.ts';

let provider: StandInProvider;
let server: TestServer;
let owner: TestPerson;
beforeEach(async () => {
  provider = await new StandInProvider().start();
  server = await TestServer.startShared({ provider: provider.options });
  owner = await TestPerson.owner(server);
});
afterEach(async () => {
  await provider.stop();
  await server.remove();
});

/** A browser that goes where it is sent. @returns the page that it comes to */
async function comes(browser: TestPerson, on: (address: string) => string = (address) => address): Promise<string> {
  const out = await browser.fetch('/session/provider');
  const way = out.headers.getSetCookie()[0]?.split(';')[0] ?? '';
  if (out.headers.get('location')!.startsWith('/')) return out.headers.get('location')!;
  const there = await fetch(out.headers.get('location')!, { redirect: 'manual' });
  const address = on(there.headers.get('location')!);
  const back = await fetch(address, { redirect: 'manual', headers: { cookie: way } });
  const session = back.headers.getSetCookie().find((one) => /^tonos=./.test(one));
  if (session) browser.cookie = session.split(';')[0];
  return back.headers.get('location')!;
}

it('whom the house knows comes in, as what the house says, and is the same person the next time', async () => {
  expect((await owner.call('GET', '/session/ways')).body).toEqual({
    password: true,
    provider: 'Sign in with the house',
  });
  provider.next = { sub: 'u7', name: 'Joost Ferrand', tonos_role: 'engineer' };
  const joost = new TestPerson(server, 'Joost Ferrand');
  expect(await comes(joost)).toBe('/');
  const first = (await joost.call<Me>('GET', '/me')).body;
  expect(first).toMatchObject({ name: 'Joost Ferrand', role: 'engineer', hasPassword: false });
  provider.next = { sub: 'u7', name: 'Joost F.', tonos_role: ['staff', 'lead'] };
  const again = new TestPerson(server, 'Joost Ferrand');
  await comes(again);
  expect((await again.call<Me>('GET', '/me')).body).toMatchObject({ id: first.id, role: 'lead' });
  // who has no password has none that can be guessed
  expect((await again.signIn('')).status).toBe(401);
});

it('a name alone makes nobody the person who is called so here', async () => {
  provider.next = { sub: 'u8', name: owner.name, tonos_role: 'listener' };
  const other = new TestPerson(server, owner.name);
  await comes(other);
  expect((await other.call<Me>('GET', '/me')).body).toMatchObject({ name: `${owner.name} 2`, role: 'listener' });
  expect((await owner.call<Person[]>('GET', '/people')).body).toHaveLength(2);
});

it.each([
  ['a role that is none here', { tonos_role: 'janitor' }, '/?refused=no-role'],
  ['no role at all', {}, '/?refused=no-role'],
  ['a token for somebody else', { aud: 'another', tonos_role: 'lead' }, '/?refused=provider-refused'],
  ['a token of another issuer', { iss: 'https://elsewhere.example', tonos_role: 'lead' }, '/?refused=provider-refused'],
  ['a token that is over', { exp: 1000, tonos_role: 'lead' }, '/?refused=provider-refused'],
])('%s lets nobody in', async (_, claims, where) => {
  provider.next = { sub: 'u9', name: 'X', ...claims };
  const nobody = new TestPerson(server, 'X');
  expect(await comes(nobody)).toBe(where);
  expect((await nobody.call('GET', '/me')).status).toBe(401);
});

it('a state or a nonce that is not this browser\u2019s lets nobody in, and no answer is good twice', async () => {
  provider.next = { sub: 'u9', name: 'X', tonos_role: 'owner' };
  const nobody = new TestPerson(server, 'X');
  expect(await comes(nobody, (address) => address.replace(/state=[^&]+/, 'state=forged'))).toBe(
    '/?refused=provider-refused',
  );
  provider.wrongNonce = 'another';
  expect(await comes(nobody)).toBe('/?refused=provider-refused');
  provider.wrongNonce = undefined;
  let seen = '';
  await comes(new TestPerson(server, 'X'), (address) => {
    seen = address;
    return address;
  });
  // the address of somebody's way in, opened in another browser
  const stolen = await fetch(seen, { redirect: 'manual' });
  expect(stolen.headers.get('location')).toBe('/?refused=provider-refused');
});

it('while the provider is down passwords go on, and it is asked again afterwards', async () => {
  await provider.stop();
  const joost = new TestPerson(server, 'Joost');
  expect(await comes(joost)).toBe('/?refused=provider-away');
  expect((await owner.signIn()).status).toBe(201);
  await provider.start();
  provider.next = { sub: 'u7', name: 'Joost', tonos_role: 'engineer' };
  expect(await comes(joost)).toBe('/');
});

it('where passwords are not allowed none is taken', async () => {
  const strict = await TestServer.startShared({ provider: provider.options, passwords: false });
  try {
    const first = await TestPerson.owner(strict);
    expect(await first.signIn()).toMatchObject({ status: 403, body: { code: 'no-passwords' } });
  } finally {
    await strict.remove();
  }
});

it('is configured whole, and over TLS', () => {
  expect(providerOptions({})).toBeNull();
  const rest = { TONOS_OIDC_CLIENT_ID: 'a', TONOS_OIDC_CLIENT_SECRET: 'b' };
  expect(() => providerOptions(rest)).toThrow(/go together/);
  expect(() => providerOptions({ ...rest, TONOS_OIDC_ISSUER: 'http://house.example' })).toThrow(/https/);
  expect(providerOptions({ ...rest, TONOS_OIDC_ISSUER: 'https://id.house.example' })).toMatchObject({
    label: 'Sign in with id.house.example',
  });
});
