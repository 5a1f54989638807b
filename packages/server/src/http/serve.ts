import { ROUTES, type Route } from '@tonos/contract';
import type { Request, RequestHandler, Response, Router } from 'express';
import { asCaller, type Caller } from './caller.ts';
import { type JsonText, textOf } from './json-text.ts';
import { HttpProblem } from './problems.ts';

export interface Call<Body, Query = unknown> {
  params: Readonly<Record<string, string>>;
  body: Body;
  query: Query;
  request: Request;
  response: Response;
  /** Who asks; of calls that need no sign-in, mostly nobody. */
  caller: Caller | null;
}

/** What a call names: ids in its path, its query and its body. */
export type Given = Pick<Call<unknown>, 'params' | 'body' | 'query'>;

/** Stands before every call. */
export interface Gate {
  /**
   * Who asks, from what the call carries; null where it carries nothing that is good.
   * @param response gets a new cookie where the old one's time is up
   */
  identify(request: Request, response: Response): Promise<Caller | null>;
  /** @throws HttpProblem 403 for too low a role, 404 for what is not there alone, 429 for too many */
  admit(route: Route, caller: Caller | null): Promise<void>;
  /** @param named whatever a call names: every id in it is looked at. @throws HttpProblem 404 for what they may not know of */
  checkKnown(caller: Caller | null, named: unknown): Promise<void>;
}

/** Writes down who did what, of every call that was answered and changed something. */
export type Tell = (route: Route, caller: Caller | null, given: Given, reply: unknown) => Promise<void>;

/** Calls that need no sign-in, by method and path: `POST /api/session`. */
const OPEN = new Set(
  (Object.values(ROUTES) as Route[])
    .filter(({ access }) => access.least === 'anybody')
    .map(({ method, path }) => `${method.toUpperCase()} ${path}`),
);
export const isOpen = ({ method, baseUrl, path }: Request): boolean =>
  OPEN.has(`${method === 'HEAD' ? 'GET' : method} ${`${baseUrl}${path}`.toLowerCase().replace(/\/+$/, '')}`);

/** What machines say; people are not heard there, nor machines elsewhere. */
const FOR_MACHINES = '/api/work/';

export const isForMachines = ({ path }: Request): boolean => path.toLowerCase().startsWith(FOR_MACHINES);

/** Only who shows the token of a machine is heard. @param find looks for it */
export const onlyMachines =
  (find: (secret: string) => Promise<unknown>): RequestHandler =>
  async (request, response, next) => {
    if (!isForMachines(request)) return next();
    const secret = /^bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1];
    response.locals.workerToken = secret && (await find(secret));
    if (!response.locals.workerToken)
      throw new HttpProblem(401, 'no-worker', 'This token is none that lets a machine work along.');
    response.set('Cache-Control', 'no-store');
    next();
  };

/** Nothing below `/api` is answered, nor its body read, for who is not known: whatever lies there, and whether or not it was declared. */
export const onlyKnown =
  (gate: Gate): RequestHandler =>
  async (request, response, next) => {
    if (response.locals.workerToken) return next();
    const caller = await gate.identify(request, response);
    if (!caller && !isOpen(request))
      throw new HttpProblem(401, 'signed-out', 'Nobody is signed in here. Sign in, and repeat this.');
    response.locals.caller = caller;
    // whoever sits down at this browser next finds nothing of it; files by content say otherwise
    response.set('Cache-Control', 'no-store');
    next();
  };

/** Where declared routes are put into service. */
export class Calls {
  constructor(
    readonly router: Router,
    readonly gate: Gate,
    readonly tell: Tell,
  ) {}

  /** Lets the calls of a route through to what answers them. A route that states no access is no route: the server does not start with it. */
  readonly admitting = (route: Route): RequestHandler => {
    if (!route.access) throw new Error(`${route.method} ${route.path} states no access`);
    if ((route.access.least === 'worker') !== route.path.startsWith(FOR_MACHINES))
      throw new Error(`${route.path} is not where calls of machines are`);
    if (route.access.least === 'worker') return (_, __, next) => next();
    return async (request, response, next) => {
      const caller = response.locals.caller as Caller | null;
      await this.gate.admit(route, caller);
      await this.gate.checkKnown(caller, [request.params, request.query]);
      if (caller) asCaller(caller, next);
      else next();
    };
  };
}

/**
 * Puts a declared route into service: who asks is looked at, its body checked, its reply sent. Routes that stream answer by themselves.
 * @param readBody reads a body that is no JSON, once the call is let through
 */
export function serve<Body, Reply, Query>(
  calls: Calls,
  route: Route<Body, Reply, Query>,
  handle: (call: Call<Body, Query>) => Reply | JsonText<Reply> | Promise<Reply | JsonText<Reply>>,
  readBody: RequestHandler | RequestHandler[] = [],
): void {
  const answer = async (request: Request, response: Response) => {
    const caller = (response.locals.caller ?? null) as Caller | null;
    const call = {
      params: request.params as Record<string, string>,
      body: bodyOf(route, request),
      query: (route.query ? route.query.parse(request.query) : undefined) as Query,
      request,
      response,
      caller,
    };
    await calls.gate.checkKnown(caller, call.body);
    // what reads a body by events may have lost whom it reads for
    const reply = await (caller ? asCaller(caller, () => handle(call)) : handle(call));
    if (route.method !== 'get') await calls.tell(route as Route, caller, call, reply);
    if (route.streams || response.headersSent) return;
    response.status(route.status);
    if (reply === undefined) response.end();
    else response.type('json').send(await textOf(reply));
  };
  calls.router[route.method](route.path, calls.admitting(route as Route), ...[readBody].flat(), answer);
}

function bodyOf<Body>(route: Pick<Route<Body>, 'body'>, request: Request): Body {
  if (!route.body) return undefined as Body;
  const empty = request.body === undefined;
  if (empty && Number(request.headers['content-length'] ?? 0) > 0) {
    throw new HttpProblem(415, 'not-json', 'The body must be JSON, with the content type application/json.');
  }
  return route.body.parse(empty ? {} : request.body);
}
