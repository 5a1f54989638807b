import { createHash, generateKeyPairSync, randomUUID, sign } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';

const base64 = (content: string | Buffer): string => Buffer.from(content).toString('base64url');

/**
 * A small OpenID Connect provider, as a house might have: whoever is sent to it is signed in as the next person that it was told of.
 * It checks what a provider checks: redirect address, client secret, PKCE, and that a code is used once.
 */
export class StandInProvider {
  private readonly keys = generateKeyPairSync('rsa', { modulusLength: 2048 });
  private readonly codes = new Map<string, { challenge: string; nonce: string; redirect: string; claims: object }>();
  private server: Server | undefined;
  private port = 0;
  /** Who signs in next. */
  next: Record<string, unknown> = { sub: '1', name: 'Nobody' };
  /** What is put into the token instead of the right nonce. */
  wrongNonce: string | undefined;

  get issuer(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  get options() {
    const { issuer } = this;
    return {
      issuer,
      clientId: 'tonos',
      clientSecret: 'a secret of the house',
      roleClaim: 'tonos_role',
      label: 'Sign in with the house',
    };
  }

  async start(): Promise<this> {
    this.server = createServer((request, response) => {
      const url = new URL(request.url!, this.issuer);
      let body = '';
      request.on('data', (bytes) => {
        body += bytes;
      });
      request.on('end', () => {
        const answer = this.answer(url, new URLSearchParams(body), request.headers.authorization ?? '');
        if (typeof answer === 'string') response.writeHead(302, { location: answer }).end();
        else
          response
            .writeHead('error' in answer ? 400 : 200, { 'content-type': 'application/json' })
            .end(JSON.stringify(answer));
      });
    });
    await new Promise<void>((resolve) => this.server!.listen(this.port, '127.0.0.1', resolve));
    this.port = (this.server.address() as AddressInfo).port;
    return this;
  }

  async stop(): Promise<void> {
    this.server?.closeAllConnections();
    await new Promise((resolve) => this.server?.close(resolve));
  }

  private answer(
    { pathname, searchParams: asked }: URL,
    form: URLSearchParams,
    authorization: string,
  ): string | object {
    const { issuer } = this;
    if (pathname === '/.well-known/openid-configuration')
      return {
        issuer,
        authorization_endpoint: `${issuer}/authorize`,
        token_endpoint: `${issuer}/token`,
        jwks_uri: `${issuer}/keys`,
        response_types_supported: ['code'],
        subject_types_supported: ['public'],
        id_token_signing_alg_values_supported: ['RS256'],
        code_challenge_methods_supported: ['S256'],
      };
    if (pathname === '/keys')
      return { keys: [{ ...this.keys.publicKey.export({ format: 'jwk' }), kid: 'k', alg: 'RS256', use: 'sig' }] };
    if (pathname === '/authorize') {
      const code = randomUUID();
      const redirect = asked.get('redirect_uri')!;
      this.codes.set(code, {
        challenge: asked.get('code_challenge')!,
        nonce: asked.get('nonce')!,
        redirect,
        claims: { ...this.next },
      });
      return `${redirect}?${new URLSearchParams({ code, state: asked.get('state')! })}`;
    }
    const held = this.codes.get(form.get('code') ?? '');
    this.codes.delete(form.get('code') ?? '');
    const verifier = createHash('sha256')
      .update(form.get('code_verifier') ?? '')
      .digest('base64url');
    const { clientId, clientSecret } = this.options;
    const isClient =
      form.get('client_secret') === clientSecret ||
      Buffer.from(authorization.replace('Basic ', ''), 'base64').toString() ===
        `${clientId}:${encodeURIComponent(clientSecret).replaceAll('%20', '+')}`;
    if (!held || !isClient || held.challenge !== verifier || held.redirect !== form.get('redirect_uri'))
      return { error: 'invalid_grant' };
    const now = Math.floor(Date.now() / 1000);
    const claims = {
      iss: issuer,
      aud: clientId,
      iat: now,
      exp: now + 300,
      nonce: this.wrongNonce ?? held.nonce,
      ...held.claims,
    };
    const signed = `${base64(JSON.stringify({ alg: 'RS256', kid: 'k' }))}.${base64(JSON.stringify(claims))}`;
    const idToken = `${signed}.${base64(sign('RSA-SHA256', Buffer.from(signed), this.keys.privateKey))}`;
    return { access_token: randomUUID(), token_type: 'Bearer', expires_in: 300, id_token: idToken };
  }
}
