import type { Route } from '@tonos/contract';
import type { Request, Response, Router } from 'express';
import { HttpProblem } from './problems.ts';

export interface Call<Body> {
  params: Readonly<Record<string, string>>;
  body: Body;
  request: Request;
  response: Response;
}

/** Puts a declared route into service: its body is checked, its reply sent. Routes that stream answer by themselves. */
export function serve<Body, Reply>(
  router: Router,
  route: Route<Body, Reply>,
  handle: (call: Call<Body>) => Reply | Promise<Reply>,
): void {
  router[route.method](route.path, async (request: Request, response: Response) => {
    const call = { params: request.params as Record<string, string>, body: bodyOf(route, request), request, response };
    const reply = await handle(call);
    if (route.streams) return;
    response.status(route.status);
    if (reply === undefined) response.end();
    else response.json(reply);
  });
}

function bodyOf<Body>(route: Route<Body, unknown>, request: Request): Body {
  if (!route.body) return undefined as Body;
  const empty = request.body === undefined;
  if (empty && Number(request.headers['content-length'] ?? 0) > 0) {
    throw new HttpProblem(415, 'not-json', 'The body must be JSON, with the content type application/json.');
  }
  return route.body.parse(empty ? {} : request.body);
}
