import { TonosError } from '@tonos/core';

/** How several people reach a server: under one address, whatever network it stands on. */
export interface SharedAddress {
  /** As people type it: https://tonos.example.org. */
  origin: URL;
  /** PEM; without them a proxy speaks TLS, or nobody does on loopback. */
  tls: { cert: string; key: string } | null;
  /** Who may say for whom they speak: addresses or networks. */
  proxies: string[];
}

export const LOOPBACK = ['127.0.0.1', 'localhost', '::1', '[::1]'];

/**
 * @param env TONOS_SHARED, TONOS_ORIGIN, TONOS_TLS_CERT, TONOS_TLS_KEY, TONOS_TRUST_PROXY
 * @param read gives the text of a file
 * @returns null where one person works alone
 * @throws TonosError `bad-address` for what would stand open
 */
export function sharedAddress(
  env: Readonly<Record<string, string | undefined>>,
  read: (path: string) => string,
): SharedAddress | null {
  if (env.TONOS_SHARED !== '1') return null;
  const refuse = (message: string) => new TonosError('bad-address', message);
  const said = env.TONOS_ORIGIN ?? '';
  if (!URL.canParse(said) || new URL(said).origin !== said.replace(/\/$/, ''))
    throw refuse(
      `TONOS_ORIGIN is ${said || 'not set'}. With TONOS_SHARED=1 it says how people reach this server, such as https://tonos.example.org.`,
    );
  const origin = new URL(said);
  const { TONOS_TLS_CERT: cert, TONOS_TLS_KEY: key } = env;
  if (!cert !== !key) throw refuse('TONOS_TLS_CERT and TONOS_TLS_KEY go together: set both, or none.');
  const proxies = (env.TONOS_TRUST_PROXY ?? '')
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);
  if (proxies.some((one) => ['all', '*', 'true', '0.0.0.0/0', '::/0'].includes(one.toLowerCase())))
    throw refuse('TONOS_TRUST_PROXY names the addresses of proxies, such as 127.0.0.1, and never all.');
  const isHttps = origin.protocol === 'https:';
  if (!isHttps && (origin.protocol !== 'http:' || !LOOPBACK.includes(origin.hostname)))
    throw refuse(`TONOS_ORIGIN is ${said}. On a network it begins with https://; http is for this machine only.`);
  if (isHttps && !cert && !proxies.length)
    throw refuse(
      'TONOS_ORIGIN begins with https://. Set TONOS_TLS_CERT and TONOS_TLS_KEY, or name the proxy that speaks TLS by TONOS_TRUST_PROXY.',
    );
  if (!isHttps && cert) throw refuse('TONOS_TLS_CERT is set: TONOS_ORIGIN must begin with https:// then.');
  return { origin, tls: cert && key ? { cert: read(cert), key: read(key) } : null, proxies };
}
