import type { Response } from 'express';
import { SessionCookie } from './gate.ts';

it.each([
  ['https', true, '__Host-tonos', true],
  ['http on this machine', false, 'tonos', false],
])(
  'over %s the cookie is bound to this host, hidden from scripts, and sent to no other site',
  (_, isHttps, name, secure) => {
    const given: unknown[] = [];
    const response = { cookie: (...said: unknown[]) => given.push(said) } as unknown as Response;
    new SessionCookie(isHttps).give(response, 'secret');
    // __Host- wants Secure, the path / and no domain (RFC 6265bis, 4.1.3.2)
    expect(given).toEqual([[name, 'secret', { httpOnly: true, sameSite: 'lax', path: '/', secure }]]);
  },
);
