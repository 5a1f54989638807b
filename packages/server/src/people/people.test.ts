import { readdir, readFile } from 'node:fs/promises';
import { request } from 'node:http';
import { connect } from 'node:net';
import { join } from 'node:path';
import type { AccessToken, AccountEntry, Chain, Me, Person, Session, TokenMade } from '@tonos/contract';
import fc from 'fast-check';
import { TestPerson } from '../testing/person.ts';
import { TestServer } from '../testing/test-server.ts';

let server: TestServer;
let owner: TestPerson;
beforeEach(async () => {
  server = await TestServer.startShared();
});
afterEach(() => server.remove());

const NEW_PASSWORD = 'seven herons at low tide';
const tokenOf = (url: string) => new URL(url).searchParams.get('token')!;

describe('the ways in', () => {
  it('the first owner comes by the link of the start, once; then there is none', async () => {
    const link = server.setUpUrl!;
    expect(link).toMatch(/^http:\/\/127\.0\.0\.1:\d+\/setup\?token=[\w-]{43}$/);
    const stranger = new TestPerson(server, 'Stranger');
    const body = { token: 'x'.repeat(43), name: 'Stranger', password: NEW_PASSWORD };
    expect(await stranger.call('POST', '/setup', body)).toMatchObject({ status: 410, body: { code: 'link-spent' } });
    // a refused password does not use the link up
    const short = { token: tokenOf(link), name: 'Odile Brandt', password: 'short' };
    expect(await stranger.call('POST', '/setup', short)).toMatchObject({
      status: 422,
      body: { code: 'weak-password' },
    });
    owner = await TestPerson.owner(server);
    expect((await owner.call<Me>('GET', '/me')).body).toMatchObject({
      name: 'Odile Brandt',
      role: 'owner',
      shared: true,
    });
    expect((await stranger.call('POST', '/setup', { ...body, token: tokenOf(link) })).status).toBe(410);
    await server.close();
    await server.open();
    expect(server.setUpUrl).toBeNull();
    // sessions outlive a restart
    expect((await owner.call('GET', '/me')).status).toBe(200);
  });

  it('a new start says a new link while there is no owner, and the old one is good no more', async () => {
    const before = tokenOf(server.setUpUrl!);
    await server.close();
    await server.open();
    expect(tokenOf(server.setUpUrl!)).not.toBe(before);
    const body = { token: before, name: 'Late', password: NEW_PASSWORD };
    expect((await new TestPerson(server, 'Late').call('POST', '/setup', body)).status).toBe(410);
  });

  it('an invitation is good once, for a name that is free, and for seven days', async () => {
    owner = await TestPerson.owner(server);
    const { url } = (await owner.call<{ url: string }>('POST', '/invitations', { role: 'engineer' })).body;
    const joining = (name: string, password = NEW_PASSWORD) =>
      new TestPerson(server, name).call('POST', '/invitations/accept', { token: tokenOf(url), name, password });
    expect(await joining('odile BRANDT')).toMatchObject({ status: 409, body: { code: 'name-taken' } });
    for (const weak of ['qwerty123456', 'passwordpassword', 'aaaaaaaaaaaaaaaa', 'Tamsin Adler1'])
      expect(await joining('Tamsin Adler', weak)).toMatchObject({ status: 422, body: { code: 'weak-password' } });
    for (const name of ['\u202egrob', '', 'a'.repeat(10_000), 'a\u0000b'])
      expect(await joining(name)).toMatchObject({ status: 422 });
    // two who follow it at once: one of them joins
    const both = await Promise.all([joining('<b>Tamsin</b>'), joining('Tamsin Two')]);
    expect(both.map(({ status }) => status).sort()).toEqual([201, 410]);
    expect((await owner.call<unknown[]>('GET', '/invitations')).body).toEqual([]);
  });

  it('a wrong name and a wrong password are answered alike; five of a name are enough', async () => {
    owner = await TestPerson.owner(server);
    const known = new TestPerson(server, owner.name);
    const unknown = new TestPerson(server, 'Nobody Atall');
    const answers = [await known.signIn('wrong'), await unknown.signIn('wrong')];
    expect(answers[0]).toEqual(answers[1]);
    expect(answers[0]).toMatchObject({ status: 401, body: { code: 'wrong-sign-in' } });
    for (let k = 0; k < 4; k++) expect((await known.signIn('wrong')).status).toBe(401);
    const response = await known.fetch('/session', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: owner.name, password: 'wrong' }),
    });
    expect(response.status).toBe(429);
    expect(Number(response.headers.get('retry-after'))).toBeGreaterThan(600);
    // the right one is not taken either, but whoever is signed in under the name goes on
    expect((await known.signIn()).status).toBe(429);
    expect((await owner.call('GET', '/me')).status).toBe(200);
    expect((await owner.signIn()).status).toBe(201);
  });

  it('a flood of names from one address ends after twenty', async () => {
    owner = await TestPerson.owner(server);
    const tries = await Promise.all(
      Array.from({ length: 40 }, (_, k) => new TestPerson(server, `Guess ${k}`).signIn('wrong guess again')),
    );
    const statuses = tries.map(({ status }) => status);
    expect(statuses.filter((status) => status === 401)).toHaveLength(20);
    expect(statuses.filter((status) => status === 429)).toHaveLength(20);
  });

  it('the way back is a link of an owner; it ends all that was open', async () => {
    owner = await TestPerson.owner(server);
    const tamsin = await owner.invites('Tamsin Adler', 'engineer');
    const { url } = (await owner.call<{ url: string }>('POST', `/people/${tamsin.id}/way-back`)).body;
    expect((await tamsin.call('POST', `/people/${owner.id}/way-back`)).status).toBe(403);
    const again = new TestPerson(server, tamsin.name);
    const body = { token: tokenOf(url), password: NEW_PASSWORD };
    expect((await again.call('POST', '/session/way-back', body)).status).toBe(201);
    expect((await again.call('POST', '/session/way-back', body)).status).toBe(410);
    expect((await tamsin.call('GET', '/me')).status).toBe(401);
    expect((await tamsin.signIn()).status).toBe(401);
    expect((await tamsin.signIn(NEW_PASSWORD)).status).toBe(201);
  });

  it('no secret lies in the database in clear', async () => {
    owner = await TestPerson.owner(server);
    const made = (await owner.call<TokenMade>('POST', '/tokens', { name: 'build', role: 'engineer', days: 9 })).body;
    const { url } = (await owner.call<{ url: string }>('POST', '/invitations', { role: 'lead' })).body;
    await server.close();
    const files = (await readdir(server.dataFolder)).filter((name) => name.startsWith('tonos.sqlite'));
    const read = files.map((name) => readFile(join(server.dataFolder, name), 'latin1'));
    const bytes = (await Promise.all(read)).join('');
    for (const secret of [owner.cookie.split('=')[1], made.token.slice(4), tokenOf(url), 'lantern on the quay'])
      expect([secret, bytes.includes(secret)]).toEqual([secret, false]);
    expect(bytes.includes('$argon2id$v=19$m=19456,t=2,p=1$')).toBe(true);
    await server.open();
  });
});

describe('people', () => {
  beforeEach(async () => {
    owner = await TestPerson.owner(server);
  });

  /** Reads a stream of events until it is shut. */
  const streamOf = async (person: TestPerson, headers: Record<string, string> = {}) => {
    const response = await person.fetch('/events', { headers });
    const reader = response.body!.getReader();
    const shut = (async () => {
      try {
        while (!(await reader.read()).done);
      } catch {
        // it was cut
      }
      return 'shut';
    })();
    return { shut, still: () => Promise.race([shut, new Promise((done) => setTimeout(done, 200, 'open'))]) };
  };

  it('who is lowered may less at the next call, with another cookie, and their stream begins anew', async () => {
    const mira = await owner.invites('Mira Osten', 'lead');
    const stream = await streamOf(mira);
    const chain = (await mira.call<Chain>('POST', '/chains', { name: 'Voice', steps: [] })).body;
    const path = `/chains/${chain.id}/revisions/1/approval`;
    expect((await mira.call('POST', path, { sentence: 'Heard on all.' })).status).toBe(201);
    const before = mira.cookie;
    await owner.call('PATCH', `/people/${mira.id}`, { role: 'listener' });
    expect(await stream.shut).toBe('shut');
    const refused = await mira.call('DELETE', path);
    expect(refused).toMatchObject({ status: 403, body: { code: 'role-too-low', role: 'listener', least: 'lead' } });
    expect(mira.cookie).not.toBe(before);
    expect((await mira.call<Me>('GET', '/me')).body.role).toBe('listener');
  });

  it('who leaves is out at once: session, token, stream', async () => {
    const mira = await owner.invites('Mira Osten', 'engineer');
    const { token } = (await mira.call<TokenMade>('POST', '/tokens', { name: 'n', role: 'listener', days: 1 })).body;
    const script = new TestPerson(server, 'script');
    const bearer = { authorization: `Bearer ${token}` };
    const streams = [await streamOf(mira), await streamOf(script, bearer)];
    expect(await streams[1].still()).toBe('open');
    expect((await script.call('GET', '/titles', undefined, bearer)).status).toBe(200);
    await owner.call('PATCH', `/people/${mira.id}`, { left: true });
    expect(await Promise.all(streams.map(({ shut }) => shut))).toEqual(['shut', 'shut']);
    expect((await mira.call('GET', '/me')).status).toBe(401);
    expect((await script.call('GET', '/titles', undefined, bearer)).status).toBe(401);
    expect((await mira.signIn()).status).toBe(401);
    const people = (await owner.call<Person[]>('GET', '/people')).body;
    expect(people.find(({ id }) => id === mira.id)).toMatchObject({ name: 'Mira Osten', left: true });
    // the name is free again
    expect((await owner.invites('Mira Osten', 'listener')).id).not.toBe(mira.id);
  });

  it('the last owner can neither leave nor be lowered', async () => {
    for (const change of [{ left: true }, { role: 'lead' }])
      expect(await owner.call('PATCH', `/people/${owner.id}`, change)).toMatchObject({
        status: 409,
        body: { code: 'last-owner' },
      });
    const second = await owner.invites('Second Owner', 'owner');
    expect((await owner.call('PATCH', `/people/${owner.id}`, { role: 'lead' })).status).toBe(200);
    expect((await owner.call('PATCH', `/people/${second.id}`, { role: 'lead' })).status).toBe(403);
  });

  it('two owners who lower each other at once: one of them stays', async () => {
    const second = await owner.invites('Second Owner', 'owner');
    const lower = (by: TestPerson, who: TestPerson) => by.call('PATCH', `/people/${who.id}`, { role: 'lead' });
    const both = await Promise.all([lower(owner, second), lower(second, owner)]);
    // whoever came second is an owner no more (403), or the last one (409)
    const [first, other] = both.map(({ status }) => status).sort();
    expect([first, [403, 409].includes(other)]).toEqual([200, true]);
    const roles = (await owner.call<Person[]>('GET', '/people')).body.map(({ role }) => role);
    expect(roles.filter((role) => role === 'owner')).toHaveLength(1);
  });

  it('who is lowered, or has left, while their new password is being hashed stays lowered, and gone', async () => {
    for (const change of [{ role: 'listener' }, { left: true }]) {
      const mira = await owner.invites('Mira Osten', 'lead');
      const { url } = (await owner.call<{ url: string }>('POST', `/people/${mira.id}/way-back`)).body;
      const back = { token: tokenOf(url), password: NEW_PASSWORD };
      // hashing takes its time: the owner's change comes in between
      const setting = new TestPerson(server, 'x').call('POST', '/session/way-back', back);
      await owner.call('PATCH', `/people/${mira.id}`, change);
      const { status } = await setting;
      const after = (await owner.call<Person[]>('GET', '/people')).body.find(({ id }) => id === mira.id)!;
      if ('role' in change) {
        expect(after.role).toBe('listener');
        await owner.call('PATCH', `/people/${mira.id}`, { left: true });
      } else expect([after.left, status]).toEqual([true, 409]);
    }
  });

  it('shows titles to owners only, and a listener no security account', async () => {
    const mira = await owner.invites('Mira Osten', 'listener');
    const [seen] = (await mira.call<Person[]>('GET', '/people')).body;
    expect(seen).not.toHaveProperty('titles');
    expect((await owner.call<Person[]>('GET', '/people')).body[0].titles).toEqual([]);
    const sentences = (await owner.call<AccountEntry[]>('GET', '/account')).body.map(
      ({ person, sentence }) => `${person.name} ${sentence.replace(/, from .*/, '')}`,
    );
    expect(sentences).toEqual([
      'Mira Osten joined',
      'Odile Brandt invited somebody as listener',
      'Odile Brandt set Tonos up for several people',
    ]);
    expect((await mira.call<AccountEntry[]>('GET', '/account')).body).toEqual([]);
    const csv = await owner.call<string>('GET', '/account', undefined, { accept: 'text/csv' });
    expect(csv.type).toContain('text/csv');
    expect(csv.body.split('\r\n')[0]).toBe('When,Who,About,What');
  });

  it('has twenty sessions at most, each can be ended, and a new password ends the others', async () => {
    const before = (await owner.call<Session[]>('GET', '/sessions')).body;
    expect(before).toMatchObject([{ current: true }]);
    const others: TestPerson[] = [];
    for (let k = 0; k < 20; k++) {
      others.push(new TestPerson(server, owner.name));
      await others[k].signIn();
    }
    expect((await owner.call('GET', '/me')).status).toBe(401); // the oldest
    const last = others[19];
    expect((await last.call<Session[]>('GET', '/sessions')).body).toHaveLength(20);
    const [, { id }] = (await last.call<Session[]>('GET', '/sessions')).body;
    expect((await last.call('DELETE', `/sessions/${id}`)).status).toBe(204);
    expect((await last.call('DELETE', `/sessions/${id}`)).status).toBe(404);
    const change = (old: string) => last.call('PATCH', '/me', { password: { old, new: NEW_PASSWORD } });
    expect((await change('not this one')).status).toBe(403);
    expect((await change('a lantern on the quay')).status).toBe(200);
    expect((await last.call<Session[]>('GET', '/sessions')).body).toHaveLength(1);
    expect((await last.call('DELETE', '/session')).status).toBe(204);
    expect((await last.call('GET', '/me')).status).toBe(401);
  }, 60_000);
});

describe('tokens', () => {
  beforeEach(async () => {
    owner = await TestPerson.owner(server);
  });

  it('reach no higher than who makes them, are told once, and are ended by an owner', async () => {
    const mira = await owner.invites('Mira Osten', 'engineer');
    const make = (role: string) => mira.call<TokenMade>('POST', '/tokens', { name: 'build', role, days: 30 });
    expect((await make('lead')).status).toBe(403);
    const { token, id } = (await make('listener')).body;
    expect(token).toMatch(/^tns_[\w-]{43}$/);
    const script = new TestPerson(server, 'script');
    const bearer = { authorization: `Bearer ${token}` };
    expect((await script.call('POST', '/titles', { name: 'X', kind: 'podcast' }, bearer)).status).toBe(403);
    expect((await script.call('POST', '/tokens', { name: 'y', role: 'listener', days: 1 }, bearer)).status).toBe(403);
    // a token beside somebody's cookie counts, and not the cookie
    expect((await owner.call('DELETE', `/tokens/${id}`, undefined, bearer)).status).toBe(204);
    expect((await script.call('GET', '/titles', undefined, bearer)).status).toBe(401);
    expect(JSON.stringify((await owner.call<AccessToken[]>('GET', '/tokens')).body)).not.toContain(token);
  });

  it('old, cut, foreign and empty ones are nobody', async () => {
    const { token } = (await owner.call<TokenMade>('POST', '/tokens', { name: 'b', role: 'owner', days: 1 })).body;
    const script = new TestPerson(server, 'script');
    const broken = [
      token.slice(0, -1),
      `${token}x`,
      token.toUpperCase(),
      `tns_${'a'.repeat(43)}`,
      '',
      'tns_',
      owner.cookie,
    ];
    for (const wrong of broken)
      expect((await script.call('GET', '/me', undefined, { authorization: `Bearer ${wrong}` })).status).toBe(401);
    expect((await script.call('GET', '/me', undefined, { authorization: `Basic ${token}` })).status).toBe(401);
    // who shows a token that is no good is nobody, whatever cookie comes with it
    expect((await owner.call('GET', '/me', undefined, { authorization: `Bearer ${broken[0]}` })).status).toBe(401);
    expect((await script.call('GET', '/me', undefined, { authorization: `Bearer ${token}` })).status).toBe(200);
  });
});

describe('on a network', () => {
  beforeEach(async () => {
    owner = await TestPerson.owner(server);
  });

  it('what changes something comes from a page of this server, or carries a token', async () => {
    const body = JSON.stringify({ name: 'X', kind: 'podcast' });
    const post = (headers: Record<string, string>) =>
      fetch(`${server.origin}/api/titles`, {
        method: 'POST',
        headers: { cookie: owner.cookie, 'content-type': 'application/json', ...headers },
        body,
      }).then(({ status }) => status);
    expect(await post({})).toBe(403);
    expect(await post({ origin: 'null' })).toBe(403);
    expect(await post({ origin: 'https://elsewhere.example' })).toBe(403);
    expect(await post({ origin: server.origin })).toBe(201);
    const { token } = (await owner.call<TokenMade>('POST', '/tokens', { name: 'b', role: 'engineer', days: 1 })).body;
    expect(await post({ cookie: '', authorization: `Bearer ${token}` })).toBe(201);
  });

  it('Sec-Fetch-Site says it where no Origin does', async () => {
    const post = (site: string) =>
      new Promise<number>((resolve, reject) => {
        const headers = { cookie: owner.cookie, 'sec-fetch-site': site, 'content-type': 'application/json' };
        request(`${server.origin}/api/titles`, { method: 'POST', headers }, ({ statusCode }) => resolve(statusCode!))
          .on('error', reject)
          .end(JSON.stringify({ name: 'X', kind: 'podcast' }));
      });
    expect(await post('same-origin')).toBe(201);
    for (const site of ['cross-site', 'same-site', 'none']) expect(await post(site)).toBe(403);
  });

  it('headers of strangers change nothing: one Host, one path, no forwarding', async () => {
    const { port, host } = new URL(server.origin);
    const raw = (lines: string[]) =>
      new Promise<string>((resolve, reject) => {
        const socket = connect(Number(port), '127.0.0.1', () => socket.write(`${lines.join('\r\n')}\r\n\r\n`));
        let text = '';
        socket.on('data', (bytes) => {
          text += bytes;
        });
        socket.on('close', () => resolve(text.split('\r\n')[0]));
        socket.on('error', reject);
      });
    const ask = (target: string, ...lines: string[]) => raw([`GET ${target} HTTP/1.1`, ...lines, 'Connection: close']);
    expect(await ask('/api/health', `Host: ${host}`)).toContain('200');
    expect(await ask('/api/health', `Host: ${host}`, `Host: elsewhere.example`)).toContain('400');
    expect(await ask('/api/health', 'Host: elsewhere.example')).toContain('403');
    expect(await ask('/api/health', 'Host: elsewhere.example', `X-Forwarded-Host: ${host}`)).toContain('403');
    expect(await ask(`http://elsewhere.example/api/health`, `Host: ${host}`)).toContain('400');
    expect(await ask('/api/health')).toContain('400');
    expect(await ask('/api/titles', `Host: ${host}`, 'X-Forwarded-For: 127.0.0.1', 'Authorization: Bearer')).toContain(
      '401',
    );
    for (const path of [
      '/API/titles',
      '/api//titles',
      '/api/titles/',
      '/api/%74itles',
      '/api/titles?x=/api/health',
      '/api/health/../titles',
    ])
      expect([path, await ask(path, `Host: ${host}`)]).toEqual([path, expect.stringMatching(/ (401|404) /)]);
  });

  it('whatever stands in the headers, nobody comes in by it and nothing breaks', async () => {
    const { port, hostname } = new URL(server.origin);
    const names = [
      'cookie',
      'authorization',
      'origin',
      'x-forwarded-for',
      'x-forwarded-host',
      'forwarded',
      'x-real-ip',
    ];
    // what a client can put into a header at all
    const values = fc.string({
      unit: fc
        .integer({ min: 0x20, max: 0xff })
        .filter((code) => code !== 0x7f)
        .map((code) => String.fromCharCode(code)),
      maxLength: 300,
    });
    const start = fc.constantFrom(
      '',
      'tonos=',
      'tonos=;tonos=',
      'Bearer ',
      'Bearer tns_',
      'Basic ',
      'for=127.0.0.1;host=',
    );
    const headers = fc.dictionary(
      fc.constantFrom(...names),
      fc.tuple(start, values).map((parts) => parts.join('')),
    );
    await fc.assert(
      fc.asyncProperty(
        headers,
        fc.constantFrom('/api/titles', '/api/people', '/api/events', '/api/uploads/x'),
        async (given, path) => {
          const status = await new Promise<number>((resolve, reject) => {
            request({ hostname, port, path, headers: given }, (answer) => {
              answer.resume();
              resolve(answer.statusCode!);
            })
              .on('error', reject)
              .end();
          });
          expect([400, 401, 403, 431]).toContain(status);
        },
      ),
      { numRuns: 300, seed: 20261130 },
    );
    expect(server.errors).toEqual([]);
  });

  it('the cookie can be read by no script and is sent to no other site', async () => {
    const response = await owner.fetch('/session', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: owner.name, password: 'a lantern on the quay' }),
    });
    expect(response.headers.get('set-cookie')).toMatch(/^tonos=[\w-]{43}; Path=\/; HttpOnly; SameSite=Lax$/);
  });
});

it('alone there is one person, who can be named, and none of what is for several', async () => {
  const alone = await TestServer.start();
  try {
    expect((await alone.call<Me>('GET', '/me')).body).toMatchObject({ name: '', role: 'owner', shared: false });
    expect((await alone.call<Me>('PATCH', '/me', { name: 'Odile' })).body.name).toBe('Odile');
    for (const [method, path] of [
      ['POST', '/setup'],
      ['POST', '/session'],
      ['GET', '/sessions'],
      ['GET', '/people'],
      ['POST', '/invitations'],
      ['GET', '/tokens'],
    ])
      expect([path, (await alone.call(method, path, method === 'POST' ? {} : undefined)).status]).toEqual([path, 404]);
    const chain = (await alone.call<Chain>('POST', '/chains', { name: 'Voice', steps: [] })).body;
    expect(chain.revisions[0].author).toBe('Odile');
    expect((await alone.call<AccountEntry[]>('GET', '/account')).body[0]).toMatchObject({
      person: { name: 'Odile' },
      chainId: chain.id,
      sentence: 'made the chain “Voice”',
    });
  } finally {
    await alone.remove();
  }
});
