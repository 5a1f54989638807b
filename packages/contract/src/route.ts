import type * as z from 'zod';
import type { Role } from './people.ts';

/** Who may make a call. */
export interface Access {
  /**
   * The least role; `anybody` needs no sign-in; `worker` is no person: a machine that works along, by its own token. What belongs to a closed title is not there for those who may not know of it, whatever their role.
   */
  readonly least: Role | 'anybody' | 'worker';
  /** Hangs on the processor, or fills the disk: so often a second for each person, and no oftener. */
  readonly costly?: boolean;
  /** There is no such call where one person works alone. */
  readonly shared?: boolean;
}

/** What crosses HTTP at one place: the server checks by it, the OpenAPI document prints it. */
export interface Route<Body = unknown, Reply = unknown, Query = unknown> {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With Express parameters: `/api/titles/:id`. */
  readonly path: string;
  readonly summary: string;
  readonly access: Access;
  readonly status: number;
  readonly body?: z.ZodType<Body>;
  readonly query?: z.ZodType<Query>;
  /** JSON that is answered. Routes that stream have none. */
  readonly reply?: z.ZodType<Reply>;
  /** Media type of what is streamed. */
  readonly streams?: string;
  /** Media type of the body where it is no JSON. */
  readonly takes?: string;
}

/** The address of a route, its parameters put in. @throws Error where one is missing */
export function pathOf(route: Pick<Route, 'path'>, params: Readonly<Record<string, string | number>> = {}): string {
  return route.path.replace(/:(\w+)/g, (_, name: string) => {
    const value = params[name];
    if (value === undefined) throw new Error(`${route.path} wants ${name}`);
    return encodeURIComponent(value);
  });
}

type Extra = Partial<Pick<Route, 'status' | 'streams' | 'takes'>> & Pick<Access, 'costly' | 'shared'>;

const declare =
  (least: Access['least'], method: Route['method'], usual: number) =>
  <Reply = undefined, Body = undefined, Query = undefined>(
    path: string,
    summary: string,
    {
      costly,
      shared,
      status = usual,
      ...options
    }: Extra & { reply?: z.ZodType<Reply>; body?: z.ZodType<Body>; query?: z.ZodType<Query> } = {},
  ): Route<Body, Reply, Query> => ({ method, path, summary, access: { least, costly, shared }, status, ...options });

/** The calls that a role, and every higher one, may make. */
const callsOf = (least: Access['least']) => ({
  get: declare(least, 'get', 200),
  post: declare(least, 'post', 201),
  put: declare(least, 'put', 200),
  patch: declare(least, 'patch', 200),
  remove: declare(least, 'delete', 204),
});

export const anybody = callsOf('anybody');
export const listener = callsOf('listener');
export const engineer = callsOf('engineer');
export const lead = callsOf('lead');
export const owner = callsOf('owner');
export const worker = callsOf('worker');
