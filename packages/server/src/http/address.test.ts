import { sharedAddress } from './address.ts';

const address = (env: Record<string, string>) =>
  sharedAddress({ TONOS_SHARED: '1', ...env }, (path) => `text of ${path}`);

it('stands alone where nobody says otherwise', () => {
  expect(sharedAddress({}, String)).toBeNull();
  expect(sharedAddress({ TONOS_ORIGIN: 'https://tonos.example.org' }, String)).toBeNull();
});

it('takes an origin, with a certificate of its own or a proxy that is named', () => {
  expect(address({ TONOS_ORIGIN: 'http://localhost:4310' })).toMatchObject({ tls: null, proxies: [] });
  const own = address({ TONOS_ORIGIN: 'https://tonos.example.org', TONOS_TLS_CERT: 'c', TONOS_TLS_KEY: 'k' });
  expect(own).toMatchObject({ tls: { cert: 'text of c', key: 'text of k' } });
  const behind = address({ TONOS_ORIGIN: 'https://tonos.example.org/', TONOS_TRUST_PROXY: '10.0.0.7, 10.0.0.8' });
  expect(behind).toMatchObject({ proxies: ['10.0.0.7', '10.0.0.8'] });
  expect(behind!.origin.origin).toBe('https://tonos.example.org');
});

it.each([
  ['no origin', {}, /TONOS_ORIGIN is not set/],
  ['a path in it', { TONOS_ORIGIN: 'https://tonos.example.org/app' }, /such as https/],
  ['no address', { TONOS_ORIGIN: 'tonos' }, /such as https/],
  ['http on a network', { TONOS_ORIGIN: 'http://tonos.example.org' }, /begins with https/],
  ['https that nobody speaks', { TONOS_ORIGIN: 'https://tonos.example.org' }, /TONOS_TLS_CERT and TONOS_TLS_KEY/],
  ['half of a certificate', { TONOS_ORIGIN: 'https://a.example', TONOS_TLS_CERT: 'c' }, /go together/],
  ['every proxy', { TONOS_ORIGIN: 'https://a.example', TONOS_TRUST_PROXY: 'all' }, /never all/],
  [
    'a certificate for http',
    { TONOS_ORIGIN: 'http://localhost', TONOS_TLS_CERT: 'c', TONOS_TLS_KEY: 'k' },
    /must begin/,
  ],
])('does not start with %s', (_, env, message) => {
  expect(() => address(env as Record<string, string>)).toThrow(message);
});
