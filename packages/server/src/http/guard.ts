import type { Request, RequestHandler } from 'express';
import type { SharedAddress } from './address.ts';
import { HttpProblem } from './problems.ts';

const foreignHost = (answersAs: string, host: string | undefined) =>
  new HttpProblem(403, 'foreign-host', `This server answers as ${answersAs}, not as "${host ?? ''}".`);
const foreignOrigin = (origin: string) =>
  new HttpProblem(403, 'foreign-origin', `This server takes no calls from pages of "${origin}".`);

/** Answers as one server under one name: what a proxy and a server could read in two ways is read by neither. */
function checkForm(request: Request): void {
  const hosts = request.rawHeaders.filter((text, i) => i % 2 === 0 && text.toLowerCase() === 'host');
  if (hosts.length !== 1 || !request.url.startsWith('/'))
    throw new HttpProblem(400, 'bad-request', 'A request names one host, in its Host header, and a path.');
}

/**
 * Alone: answers only what was meant for this machine. A page elsewhere that makes a browser call 127.0.0.1 has another Origin, and
 * a name that was rebound to 127.0.0.1 has another Host.
 */
export const guardAlone: RequestHandler = (request, _, next) => {
  checkForm(request);
  const port = request.socket.localPort;
  const allowed = ['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${port}`);
  const { host, origin } = request.headers;
  if (!host || !allowed.includes(host.toLowerCase())) throw foreignHost(allowed.slice(0, 2).join(' or '), host);
  if (origin !== undefined && !allowed.includes(origin.toLowerCase().replace(/^http:\/\//, '')))
    throw foreignOrigin(origin);
  next();
};

const READING = ['GET', 'HEAD', 'OPTIONS'];

/**
 * Shared: one Host, one Origin. What changes something must come from a page of this server, which a browser says by Origin or
 * Sec-Fetch-Site and no page can forge: a cookie alone does nothing. Who shows a token instead of a cookie needs no page.
 */
export const guardShared =
  ({ origin, proxies, tls }: SharedAddress): RequestHandler =>
  (request, _, next) => {
    checkForm(request);
    const isTrusted: (address: string, hop: number) => boolean = request.app.get('trust proxy fn');
    if (proxies.length && !tls && !isTrusted(request.socket.remoteAddress ?? '', 0))
      throw new HttpProblem(403, 'past-the-proxy', `This server is reached as ${origin.origin}.`);
    const { host, origin: from, authorization } = request.headers;
    if (host?.toLowerCase() !== origin.host) throw foreignHost(origin.host, host);
    if (from !== undefined && from.toLowerCase() !== origin.origin) throw foreignOrigin(from);
    const site = request.headers['sec-fetch-site'];
    const isOwn = from !== undefined ? site === undefined || site === 'same-origin' : site === 'same-origin';
    if (!READING.includes(request.method) && !isOwn && !/^bearer /i.test(authorization ?? ''))
      throw new HttpProblem(
        403,
        'no-origin',
        'What changes something must come from a page of this server, or carry a token.',
      );
    next();
  };
