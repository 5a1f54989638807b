import { ROLES, type Role } from '@tonos/contract';
import { TonosError } from '@tonos/core';
import { LRUCache } from 'lru-cache';
import * as oidc from 'openid-client';
import { LOOPBACK } from '../http/address.ts';
import { newSecret } from './secrets.ts';

/** The house's own sign-in, as it is configured. */
export interface ProviderOptions {
  issuer: string;
  clientId: string;
  clientSecret: string;
  /** What of its answer names the role: a word, or several. */
  roleClaim: string;
  /** What the link to it says. */
  label: string;
}

/** @returns null where there is none @throws TonosError `bad-provider` for half of one, or one without TLS on a network */
export function providerOptions(env: Readonly<Record<string, string | undefined>>): ProviderOptions | null {
  const { TONOS_OIDC_ISSUER: issuer, TONOS_OIDC_CLIENT_ID: clientId, TONOS_OIDC_CLIENT_SECRET: clientSecret } = env;
  if (!issuer && !clientId && !clientSecret) return null;
  const refuse = (message: string) => new TonosError('bad-provider', message);
  if (!issuer || !clientId || !clientSecret)
    throw refuse(
      'TONOS_OIDC_ISSUER, TONOS_OIDC_CLIENT_ID and TONOS_OIDC_CLIENT_SECRET go together: set all three, or none.',
    );
  if (!URL.canParse(issuer)) throw refuse(`TONOS_OIDC_ISSUER is ${issuer}, which is no address.`);
  const { protocol, hostname } = new URL(issuer);
  if (protocol !== 'https:' && !(protocol === 'http:' && LOOPBACK.includes(hostname)))
    throw refuse('TONOS_OIDC_ISSUER begins with https://; http is for this machine only.');
  const roleClaim = env.TONOS_OIDC_ROLE_CLAIM ?? 'tonos_role';
  const label = env.TONOS_OIDC_NAME ?? `Sign in with ${hostname}`;
  return { issuer, clientId, clientSecret, roleClaim, label };
}

/** Why somebody did not come in that way; the page says it in words. */
export class ProviderRefusal extends Error {
  constructor(
    readonly code: 'provider-away' | 'provider-refused' | 'no-role',
    options?: ErrorOptions,
  ) {
    super(code, options);
  }
}

export interface Identity {
  /** Who they are there, for good. */
  subject: string;
  name: string;
  role: Role;
}

interface Flow {
  state: string;
  nonce: string;
  verifier: string;
}

const FLOW_MS = 10 * 60_000;
const ANSWER_SECONDS = 10;

/** Authorization code with PKCE (RFC 6749, 7636; OpenID Connect Core 1.0). What a browser has begun is known by its own short-lived cookie. */
export class Provider {
  private known: Promise<oidc.Configuration> | undefined;
  private readonly flows = new LRUCache<string, Flow>({ max: 2000, ttl: FLOW_MS });

  constructor(
    readonly options: ProviderOptions,
    private readonly back: string,
  ) {}

  /** @returns where the browser goes, and what it brings back besides @throws ProviderRefusal where the provider is down */
  async begin(): Promise<{ url: string; key: string }> {
    const configuration = await this.configuration();
    const flow = { state: oidc.randomState(), nonce: oidc.randomNonce(), verifier: oidc.randomPKCECodeVerifier() };
    const url = oidc.buildAuthorizationUrl(configuration, {
      redirect_uri: this.back,
      scope: 'openid profile',
      code_challenge: await oidc.calculatePKCECodeChallenge(flow.verifier),
      code_challenge_method: 'S256',
      state: flow.state,
      nonce: flow.nonce,
    });
    const key = newSecret();
    this.flows.set(key, flow);
    return { url: url.href, key };
  }

  /** @param query of the address that the provider sent the browser back to @throws ProviderRefusal */
  async finish(query: string, key: string | undefined): Promise<Identity> {
    const flow = key === undefined ? undefined : this.flows.get(key);
    if (key !== undefined) this.flows.delete(key);
    if (!flow) throw new ProviderRefusal('provider-refused');
    const configuration = await this.configuration();
    const tokens = await oidc
      .authorizationCodeGrant(configuration, new URL(`${this.back}?${query}`), {
        pkceCodeVerifier: flow.verifier,
        expectedState: flow.state,
        expectedNonce: flow.nonce,
        idTokenExpected: true,
      })
      .catch((cause) => {
        throw new ProviderRefusal('provider-refused', { cause });
      });
    const claims = tokens.claims()!;
    const said = claims[this.options.roleClaim];
    const words = Array.isArray(said) ? said : [said];
    const role = ROLES.toReversed().find((one) => words.includes(one));
    if (!role) throw new ProviderRefusal('no-role');
    const name = [claims.name, claims.preferred_username, claims.sub].find(
      (one) => typeof one === 'string' && one.trim(),
    );
    return { subject: `${claims.iss} ${claims.sub}`, name: String(name).trim().slice(0, 90), role };
  }

  /** Asked for once; again where it did not answer. */
  private configuration(): Promise<oidc.Configuration> {
    const { issuer, clientId, clientSecret } = this.options;
    const isPlain = new URL(issuer).protocol === 'http:';
    this.known ??= oidc.discovery(new URL(issuer), clientId, clientSecret, undefined, {
      timeout: ANSWER_SECONDS,
      execute: isPlain ? [oidc.allowInsecureRequests] : [],
    });
    return this.known.catch((cause) => {
      this.known = undefined;
      throw new ProviderRefusal('provider-away', { cause });
    });
  }
}
