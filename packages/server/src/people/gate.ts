import { type Role, type Route, reaches } from '@tonos/contract';
import { parse } from 'cookie';
import type { CookieOptions, Request, Response } from 'express';
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import type { Database } from '../database/database.ts';
import { type Caller, roleTooLow } from '../http/caller.ts';
import { HttpProblem, notFound, unknownCall } from '../http/problems.ts';
import type { Gate } from '../http/serve.ts';
import { firstOf } from './belonging.ts';
import type { Credentials } from './credentials.ts';
import { tooMany } from './guessing.ts';
import type { People } from './people.ts';
import { FIRST_PERSON } from './person-entity.ts';

/** Ten a second, over ten seconds: a page that opens asks for many things at once. */
const COSTLY = { points: 100, duration: 10 };

/** Where one person works alone: everybody who reaches the server is this person. */
export class GateAlone implements Gate {
  constructor(private readonly people: People) {}

  async identify(): Promise<Caller> {
    const { name } = this.people.refOf(FIRST_PERSON);
    return { personId: FIRST_PERSON, name, role: 'owner', credential: null, sees: () => true };
  }

  async admit({ access, method, path }: Route): Promise<void> {
    if (access.shared) throw unknownCall(method, path);
  }

  async checkKnown(): Promise<void> {}
}

/** The session cookie. On https its prefix binds it to this host, whatever other hosts of the domain set. */
export class SessionCookie {
  readonly name: string;
  private readonly options: CookieOptions;

  constructor(isHttps: boolean) {
    this.name = isHttps ? '__Host-tonos' : 'tonos';
    this.options = { httpOnly: true, sameSite: 'lax', path: '/', secure: isHttps };
  }

  read(request: Request): string | undefined {
    return parse(request.headers.cookie ?? '')[this.name];
  }

  give(response: Response, secret: string): void {
    response.cookie(this.name, secret, this.options);
  }

  take(response: Response): void {
    response.clearCookie(this.name, this.options);
  }

  /** What a browser has begun elsewhere, for as long as that takes. */
  get wayName(): string {
    return `${this.name}-way`;
  }

  giveWay(response: Response, key: string): void {
    response.cookie(this.wayName, key, { ...this.options, maxAge: 10 * 60_000 });
  }

  takeWay(request: Request, response: Response): string | undefined {
    response.clearCookie(this.wayName, this.options);
    return parse(request.headers.cookie ?? '')[this.wayName];
  }
}

interface GateNeeds {
  database: Database;
  people: People;
  credentials: Credentials;
  cookie: SessionCookie;
}

/** Where several people work: who asks is said by a session or by a token, and by nothing else. */
export class GateShared implements Gate {
  private readonly costly = new RateLimiterMemory(COSTLY);

  constructor(private readonly needs: GateNeeds) {}

  async identify(request: Request, response: Response): Promise<Caller | null> {
    const { credentials, cookie, people } = this.needs;
    const { authorization } = request.headers;
    if (authorization !== undefined) {
      // who shows a token is who the token says, whatever cookie comes with it
      const token = await credentials.token(/^bearer (\S+)$/i.exec(authorization)?.[1] ?? '');
      const person = token && people.get(token.personId);
      return person ? this.caller(person.id, lower(person.role, token.role), { kind: 'token', id: token.id }) : null;
    }
    const secret = cookie.read(request);
    if (!secret) return null;
    const session = await credentials.session(secret, (renewed) => cookie.give(response, renewed));
    const person = session && people.get(session.personId);
    return person ? this.caller(person.id, person.role, { kind: 'session', id: session.id }) : null;
  }

  private caller(personId: string, role: Role, credential: NonNullable<Caller['credential']>): Caller {
    const { people } = this.needs;
    const { name } = people.refOf(personId);
    return { personId, name, role, credential, sees: (titleId) => people.sees(personId, role, titleId) };
  }

  async admit({ access, summary }: Route, caller: Caller | null): Promise<void> {
    if (access.least === 'anybody') return;
    if (access.least === 'worker') throw new Error('people make no calls of machines');
    if (!caller) throw new HttpProblem(401, 'signed-out', 'Nobody is signed in here. Sign in, and repeat this.');
    if (!reaches(caller.role, access.least)) throw roleTooLow(caller.role, access.least, `do this (“${summary}”)`);
    if (!access.costly) return;
    try {
      await this.costly.consume(caller.personId);
    } catch (error) {
      if (error instanceof RateLimiterRes) throw tooMany(error, 'You ask for much at once.');
      throw error;
    }
  }

  async checkKnown(caller: Caller | null, named: unknown): Promise<void> {
    if (!caller) return;
    const hidden = this.needs.people.hiddenFrom(caller.personId, caller.role);
    const found = hidden.length ? await firstOf(this.needs.database, hidden, named) : null;
    // it is said of it what is said of what never was
    if (found) throw notFound(found.kind, found.id);
  }
}

const lower = (a: Role, b: Role): Role => (reaches(a, b) ? b : a);
