import { type AccessToken, type Person, ROUTES } from '@tonos/contract';
import type { Request, Response } from 'express';
import type { AccountService } from '../account/account-service.ts';
import { type Caller, checkRole } from '../http/caller.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import { type Calls, serve } from '../http/serve.ts';
import type { Credentials } from './credentials.ts';
import type { Doors } from './doors.ts';
import type { SessionCookie } from './gate.ts';
import type { Guessing } from './guessing.ts';
import { isPassword } from './passwords.ts';
import { describePerson, nameKey, type People } from './people.ts';
import type { PersonEntity } from './person-entity.ts';
import type { PresenceList } from './presence.ts';
import { type Provider, ProviderRefusal } from './provider.ts';
import type { TokenEntity } from './token-entity.ts';

/** What one knows of oneself, alone or among others. */
export function meRoutes(
  calls: Calls,
  {
    people,
    credentials,
    guessing,
    shared,
  }: { people: People; credentials: Credentials; guessing: Guessing; shared: boolean },
): void {
  const meOf = ({ personId, role }: Caller) => {
    const person = people.get(personId)!;
    return { ...describePerson(person, true), role, shared, hasPassword: person.passwordHash !== null };
  };
  serve(calls, ROUTES.me, ({ caller }) => meOf(caller!));
  serve(calls, ROUTES.changeMe, async ({ caller, body, request }) => {
    if (caller!.credential?.kind === 'token')
      throw new HttpProblem(403, 'by-token', 'A token changes nobody: sign in for that.');
    if (body.password && !shared) throw new HttpProblem(409, 'alone', 'Alone there is no sign-in, and no password.');
    await people.changeMe(caller!.personId, body, async ({ name, passwordHash }) => {
      const { old } = body.password!;
      const isRight = () => isPassword(passwordHash, old).then((right) => right || null);
      return (await guessing.counted(nameKey(name), request.ip ?? '', isRight)) !== null;
    });
    // whoever knew the old password is out
    if (body.password) await credentials.endAllOf(caller!.personId, caller!.credential?.id);
    return meOf(caller!);
  });
}

interface PeopleRoutesNeeds {
  people: People;
  credentials: Credentials;
  doors: Doors;
  cookie: SessionCookie;
  account: AccountService;
  presence: PresenceList;
  /** The house's own sign-in, where there is one. */
  provider: Provider | null;
  /** Whether a password is a way in besides. */
  passwords: boolean;
}

export function peopleRoutes(
  calls: Calls,
  { people, credentials, doors, cookie, account, presence, provider, passwords }: PeopleRoutesNeeds,
): void {
  /** A new session for who came in; the one that the browser had before ends. */
  const enter = async (
    person: PersonEntity,
    request: Request,
    response: Response,
    how: string,
  ): Promise<{ person: Person }> => {
    const before = cookie.read(request);
    const old = before ? await credentials.session(before, () => {}) : null;
    if (old) await credentials.endSession(old.id);
    const { secret } = await credentials.begin(person.id, request.get('user-agent') ?? '');
    cookie.give(response, secret);
    await account.write({ kind: 'people', sentence: `${how}, from ${request.ip}` }, person.id, person.name);
    return { person: describePerson(person, true) };
  };

  serve(calls, ROUTES.setUp, async ({ body, request, response }) =>
    enter(await doors.setUp(body), request, response, 'set Tonos up for several people'),
  );
  serve(calls, ROUTES.signInWays, () => ({ password: passwords, provider: provider?.options.label ?? null }));
  /** A browser goes its way: what went wrong is said by the page that it comes to. */
  const onTheWay = async (response: Response, go: (to: Provider) => Promise<string>): Promise<void> => {
    if (!provider) throw new HttpProblem(404, 'no-provider', 'No sign-in of the house is configured here.');
    try {
      response.redirect(await go(provider));
    } catch (error) {
      if (!(error instanceof ProviderRefusal)) throw error;
      await account.write(
        { kind: 'people', sentence: `failed to sign in by the house’s own sign-in: ${error.code}` },
        null,
        '',
      );
      response.redirect(`/?refused=${error.code}`);
    }
  };
  serve(calls, ROUTES.toProvider, ({ response }) =>
    onTheWay(response, async (to) => {
      const { url, key } = await to.begin();
      cookie.giveWay(response, key);
      return url;
    }),
  );
  serve(calls, ROUTES.fromProvider, ({ request, response }) =>
    onTheWay(response, async (from) => {
      const [, query = ''] = request.url.split('?');
      const person = await people.identified(await from.finish(query, cookie.takeWay(request, response)));
      await enter(person, request, response, 'signed in by the house’s own sign-in');
      return '/';
    }),
  );
  serve(calls, ROUTES.signIn, async ({ body, caller, request, response }) => {
    if (!passwords) throw new HttpProblem(403, 'no-passwords', 'One signs in here by the house’s own sign-in only.');
    const person = await doors.signIn(body, request.ip ?? '', caller?.personId ?? null);
    if (person) return enter(person, request, response, 'signed in');
    await account.write(
      { kind: 'people', sentence: `failed to sign in, from ${request.ip}` },
      null,
      body.name.slice(0, 100),
    );
    throw new HttpProblem(401, 'wrong-sign-in', 'Name or password are wrong. Nobody is signed in.');
  });
  serve(calls, ROUTES.signOut, async ({ caller, response }) => {
    const { credential } = caller!;
    if (credential?.kind !== 'session') throw new HttpProblem(409, 'by-token', 'A token is not signed out: end it.');
    await credentials.endSession(credential.id);
    cookie.take(response);
    // what was looked at and heard stays in no cache of this browser
    response.set('Clear-Site-Data', '"cache"');
    await account.write({ kind: 'people', sentence: 'signed out' }, caller!.personId, caller!.name);
    return undefined;
  });
  serve(calls, ROUTES.wayBack, async ({ body, request, response }) => {
    const person = await doors.wayBack(body);
    await credentials.endAllOf(person.id);
    return enter(person, request, response, 'set a new password by a link');
  });
  serve(calls, ROUTES.join, async ({ body, request, response }) =>
    enter(await doors.join(body), request, response, 'joined'),
  );

  serve(calls, ROUTES.sessions, ({ caller }) =>
    credentials
      .sessionsOf(caller!.personId)
      .map(({ id, createdAt, lastUsedAt, browser }) => ({
        ...{ id, createdAt, lastUsedAt, browser },
        current: id === caller!.credential?.id,
      }))
      .sort((a, b) => b.lastUsedAt.localeCompare(a.lastUsedAt)),
  );
  serve(calls, ROUTES.endSession, async ({ caller, params }) => {
    if (!credentials.sessionsOf(caller!.personId).some(({ id }) => id === params.id))
      throw notFound('session', params.id);
    await credentials.endSession(params.id);
    return undefined;
  });

  serve(calls, ROUTES.presence, ({ caller }) => presence.list(caller!));
  serve(calls, ROUTES.beThere, ({ caller, body }) => {
    presence.say(caller!, body);
    return presence.list(caller!);
  });

  serve(calls, ROUTES.people, ({ caller }) =>
    people.list().map((one) => describePerson(one, caller!.role === 'owner')),
  );
  serve(calls, ROUTES.changePerson, async ({ params, body }) =>
    describePerson(await people.change(params.id, body), true),
  );
  serve(calls, ROUTES.makeWayBack, async ({ caller, params }) => ({
    url: await doors.makeWayBack(params.id, caller!.personId),
  }));
  serve(calls, ROUTES.invitations, () => doors.invitations());
  serve(calls, ROUTES.invite, async ({ caller, body }) => ({ url: await doors.invite(body, caller!.personId) }));
  serve(calls, ROUTES.withdrawInvitation, ({ params }) => doors.withdraw(params.id));

  const tokensFor = ({ personId, role }: Caller) =>
    credentials.allTokens().filter((token) => role === 'owner' || token.personId === personId);
  serve(calls, ROUTES.tokens, ({ caller }) => tokensFor(caller!).map((token) => describeToken(token, people)));
  serve(calls, ROUTES.makeToken, async ({ caller, body: { name, role, days } }) => {
    if (caller!.credential?.kind === 'token')
      throw new HttpProblem(403, 'by-token', 'A token makes no other tokens: sign in for that.');
    checkRole(role, `make a token as ${role}`);
    const { token, secret } = await credentials.makeToken(caller!.personId, name, role, days);
    return { ...describeToken(token, people), token: secret };
  });
  serve(calls, ROUTES.endToken, async ({ caller, params }) => {
    if (!tokensFor(caller!).some(({ id }) => id === params.id)) throw notFound('token', params.id);
    await credentials.endToken(params.id);
    return undefined;
  });
}

const describeToken = ({ personId, secretHash: _, ...token }: TokenEntity, people: People): AccessToken => ({
  ...token,
  person: people.refOf(personId),
});
