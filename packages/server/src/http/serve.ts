import type { Route } from '@tonos/contract';
import type { Request, Response, Router } from 'express';
import { JsonText } from './json-text.ts';
import { HttpProblem } from './problems.ts';

export interface Call<Body, Query = unknown> {
  params: Readonly<Record<string, string>>;
  body: Body;
  query: Query;
  request: Request;
  response: Response;
}

/** Puts a declared route into service: its body is checked, its reply sent. Routes that stream answer by themselves. */
export function serve<Body, Reply, Query>(
  router: Router,
  route: Route<Body, Reply, Query>,
  handle: (call: Call<Body, Query>) => Reply | JsonText<Reply> | Promise<Reply | JsonText<Reply>>,
): void {
  router[route.method](route.path, async (request: Request, response: Response) => {
    const call = {
      params: request.params as Record<string, string>,
      body: bodyOf(route, request),
      query: (route.query ? route.query.parse(request.query) : undefined) as Query,
      request,
      response,
    };
    const reply = await handle(call);
    if (route.streams) return;
    response.status(route.status);
    if (reply === undefined) response.end();
    else if (reply instanceof JsonText) response.type('json').send(reply.text);
    else response.json(reply);
  });
}

function bodyOf<Body>(route: Pick<Route<Body>, 'body'>, request: Request): Body {
  if (!route.body) return undefined as Body;
  const empty = request.body === undefined;
  if (empty && Number(request.headers['content-length'] ?? 0) > 0) {
    throw new HttpProblem(415, 'not-json', 'The body must be JSON, with the content type application/json.');
  }
  return route.body.parse(empty ? {} : request.body);
}
