import type * as z from 'zod';

/** What crosses HTTP at one place: the server checks by it, the OpenAPI document prints it. */
export interface Route<Body = unknown, Reply = unknown, Query = unknown> {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With Express parameters: `/api/titles/:id`. */
  readonly path: string;
  readonly summary: string;
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

type Extra = Partial<Pick<Route, 'status' | 'streams' | 'takes'>>;

const declare =
  (method: Route['method'], status: number) =>
  <Reply = undefined, Body = undefined, Query = undefined>(
    path: string,
    summary: string,
    options: Extra & { reply?: z.ZodType<Reply>; body?: z.ZodType<Body>; query?: z.ZodType<Query> } = {},
  ): Route<Body, Reply, Query> => ({ method, path, summary, status, ...options });

export const get = declare('get', 200);
export const post = declare('post', 201);
export const put = declare('put', 200);
export const patch = declare('patch', 200);
export const remove = declare('delete', 204);
