import type { Role } from '@tonos/contract';
import { In } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { Surroundings } from '../surroundings.ts';
import type { Endings } from './endings.ts';
import { newSecret, secretHash } from './secrets.ts';
import { SessionEntity } from './session-entity.ts';
import { TokenEntity } from './token-entity.ts';

const HOUR_MS = 3600_000;
const IDLE_MS = 12 * HOUR_MS;
const LONGEST_MS = 30 * 24 * HOUR_MS;
const MOST_SESSIONS = 20;
/** When it was last used is written down no oftener. */
const USE_EVERY_MS = 60_000;
/** What was on its way with an old cookie still comes in. */
const OLD_COOKIE_MS = 60_000;
const TOKEN = /^tns_[\w-]{43}$/;

export interface NewSession {
  session: SessionEntity;
  /** What goes into the cookie; it is told this once. */
  secret: string;
}

interface Held {
  session: SessionEntity;
  /** Its secret is to be exchanged for another one at the next call. */
  renew: boolean;
}

/**
 * Sessions and tokens. All that are good lie in memory, by the hashes of their secrets, so that looking at one costs microseconds;
 * the database has them for the next start.
 */
export class Credentials {
  private readonly sessions = new Map<string, Held>();
  /** Hashes of secrets that were exchanged, until they are good no more. */
  private readonly old = new Map<string, { held: Held; untilMs: number }>();
  private readonly tokens = new Map<string, TokenEntity>();

  constructor(
    private readonly database: Database,
    private readonly surroundings: Surroundings,
    private readonly endings: Endings,
  ) {}

  async load(): Promise<void> {
    for (const session of await this.database.of(SessionEntity).find())
      this.sessions.set(session.secretHash, { session, renew: false });
    for (const token of await this.database.of(TokenEntity).find()) this.tokens.set(token.secretHash, token);
    await this.sweep();
  }

  /** The oldest one goes where a person has too many. */
  async begin(personId: string, browser: string): Promise<NewSession> {
    const secret = newSecret();
    const now = this.surroundings.now();
    const session: SessionEntity = {
      id: this.surroundings.newId(),
      secretHash: secretHash(secret),
      personId,
      createdAt: now,
      lastUsedAt: now,
      browser: browser.slice(0, 300),
    };
    const own = this.sessionsOf(personId).sort((a, b) => a.lastUsedAt.localeCompare(b.lastUsedAt));
    for (const { id } of own.slice(0, Math.max(0, own.length - MOST_SESSIONS + 1))) await this.endSession(id);
    await this.database.transaction((manager) => manager.insert(SessionEntity, session));
    this.sessions.set(session.secretHash, { session, renew: false });
    return { session, secret };
  }

  /** @param renewed is called with a new secret where the session's is to be exchanged */
  async session(secret: string, renewed: (secret: string) => void): Promise<SessionEntity | null> {
    const hash = secretHash(secret);
    const before = this.old.get(hash);
    const held = this.sessions.get(hash) ?? (before && before.untilMs > this.nowMs() ? before.held : undefined);
    if (!held) return null;
    const { session } = held;
    if (this.isOver(session)) {
      await this.endSession(session.id);
      return null;
    }
    if (held.renew) renewed(await this.exchange(held));
    else await this.use(session);
    return session;
  }

  async token(secret: string): Promise<TokenEntity | null> {
    if (!TOKEN.test(secret)) return null;
    const token = this.tokens.get(secretHash(secret));
    if (!token || Date.parse(token.endsAt) <= this.nowMs()) return null;
    const last = token.lastUsedAt ? Date.parse(token.lastUsedAt) : 0;
    if (Math.abs(this.nowMs() - last) > USE_EVERY_MS) {
      token.lastUsedAt = this.surroundings.now();
      const { id, lastUsedAt } = token;
      await this.database.transaction((manager) => manager.update(TokenEntity, { id }, { lastUsedAt }));
    }
    return token;
  }

  async makeToken(
    personId: string,
    name: string,
    role: Role,
    days: number,
  ): Promise<{ token: TokenEntity; secret: string }> {
    const secret = `tns_${newSecret()}`;
    const token: TokenEntity = {
      id: this.surroundings.newId(),
      secretHash: secretHash(secret),
      personId,
      name,
      role,
      createdAt: this.surroundings.now(),
      endsAt: new Date(this.nowMs() + days * 24 * HOUR_MS).toISOString(),
      lastUsedAt: null,
    };
    await this.database.transaction((manager) => manager.insert(TokenEntity, token));
    this.tokens.set(token.secretHash, token);
    return { token, secret };
  }

  sessionsOf(personId: string): SessionEntity[] {
    return [...this.sessions.values()]
      .map(({ session }) => session)
      .filter((session) => session.personId === personId && !this.isOver(session));
  }

  allTokens(): TokenEntity[] {
    return [...this.tokens.values()];
  }

  async endSession(id: string): Promise<void> {
    for (const [hash, { session }] of this.sessions) if (session.id === id) this.sessions.delete(hash);
    for (const [hash, { held }] of this.old) if (held.session.id === id) this.old.delete(hash);
    await this.database.transaction((manager) => manager.delete(SessionEntity, { id }));
    this.endings.end(id);
  }

  async endToken(id: string): Promise<void> {
    for (const [hash, token] of this.tokens) if (token.id === id) this.tokens.delete(hash);
    await this.database.transaction((manager) => manager.delete(TokenEntity, { id }));
    this.endings.end(id);
  }

  /** @param but a session that stays */
  async endAllOf(personId: string, but?: string): Promise<void> {
    for (const { id } of this.sessionsOf(personId)) if (id !== but) await this.endSession(id);
    for (const { id, personId: whose } of this.allTokens()) if (whose === personId) await this.endToken(id);
  }

  /** What a person may has changed: their secrets are exchanged, and what is open begins anew, with what they may now. */
  renewAllOf(personId: string): void {
    for (const held of this.sessions.values()) {
      if (held.session.personId !== personId) continue;
      held.renew = true;
      this.endings.end(held.session.id);
    }
    for (const { id, personId: whose } of this.allTokens()) if (whose === personId) this.endings.end(id);
  }

  private async exchange(held: Held): Promise<string> {
    const { session } = held;
    held.renew = false;
    const secret = newSecret();
    this.sessions.delete(session.secretHash);
    this.old.set(session.secretHash, { held, untilMs: this.nowMs() + OLD_COOKIE_MS });
    session.secretHash = secretHash(secret);
    this.sessions.set(session.secretHash, held);
    session.lastUsedAt = this.surroundings.now();
    await this.database.transaction((manager) => manager.save(SessionEntity, session));
    return secret;
  }

  private async use(session: SessionEntity): Promise<void> {
    if (Math.abs(this.nowMs() - Date.parse(session.lastUsedAt)) < USE_EVERY_MS) return;
    session.lastUsedAt = this.surroundings.now();
    const { id, lastUsedAt } = session;
    await this.database.transaction((manager) => manager.update(SessionEntity, { id }, { lastUsedAt }));
    await this.sweep();
  }

  private isOver({ createdAt, lastUsedAt }: SessionEntity): boolean {
    const now = this.nowMs();
    return now - Date.parse(lastUsedAt) > IDLE_MS || now - Date.parse(createdAt) > LONGEST_MS;
  }

  /** What nobody comes back to takes no room. */
  private async sweep(): Promise<void> {
    for (const [hash, { untilMs }] of this.old) if (untilMs <= this.nowMs()) this.old.delete(hash);
    const over = [...this.sessions].filter(([, { session }]) => this.isOver(session));
    if (!over.length) return;
    for (const [hash] of over) this.sessions.delete(hash);
    const ids = over.map(([, { session }]) => session.id);
    await this.database.transaction((manager) => manager.delete(SessionEntity, { id: In(ids) }));
    for (const id of ids) this.endings.end(id);
  }

  private nowMs(): number {
    return Date.parse(this.surroundings.now());
  }
}
