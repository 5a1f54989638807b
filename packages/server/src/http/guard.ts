import type { RequestHandler } from 'express';
import { HttpProblem } from './problems.ts';

/**
 * Answers only what was meant for this server: a page elsewhere that makes a browser call 127.0.0.1 has another Origin, and
 * a name that was rebound to 127.0.0.1 has another Host.
 */
export const guard: RequestHandler = (request, _, next) => {
  const port = request.socket.localPort;
  const allowed = [`127.0.0.1:${port}`, `localhost:${port}`];
  const { host, origin } = request.headers;
  if (!host || !allowed.includes(host.toLowerCase())) {
    throw new HttpProblem(
      403,
      'foreign-host',
      `This server answers as ${allowed.join(' or ')}, not as "${host ?? ''}".`,
    );
  }
  if (origin !== undefined && !allowed.includes(origin.toLowerCase().replace(/^http:\/\//, ''))) {
    throw new HttpProblem(403, 'foreign-origin', `This server takes no calls from pages of "${origin}".`);
  }
  next();
};
