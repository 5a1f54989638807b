import type { Invitation, NewInvitation, SetUp, SignIn, WayBack } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import type { Surroundings } from '../surroundings.ts';
import type { Guessing } from './guessing.ts';
import { LinkEntity } from './link-entity.ts';
import { checkPassword, hashPassword, isPassword } from './passwords.ts';
import { nameKey, type People } from './people.ts';
import { FIRST_PERSON, type PersonEntity } from './person-entity.ts';
import { newSecret, secretHash } from './secrets.ts';

const HOUR_MS = 3600_000;
const DAY_MS = 24 * HOUR_MS;
const INVITATION_MS = 7 * DAY_MS;
const WAY_BACK_MS = DAY_MS;

interface DoorsNeeds {
  database: Database;
  people: People;
  guessing: Guessing;
  surroundings: Surroundings;
  /** Such as https://tonos.example.org. */
  origin: string;
}

/** The ways in: set-up, a password, an invitation, the way back. Each ends in a person; whose session begins is said by the routes. */
export class Doors {
  private setUpLink: { hash: string; endsMs: number } | null = null;

  constructor(private readonly needs: DoorsNeeds) {}

  /** The address by which the first owner is made; null where there is one. It takes the place of every one before. */
  openSetUp(): string | null {
    if (this.needs.people.hasOwner()) return null;
    const secret = newSecret();
    this.setUpLink = { hash: secretHash(secret), endsMs: this.nowMs() + HOUR_MS };
    return this.addressOf('setup', secret);
  }

  async setUp({ token, name, password }: SetUp): Promise<PersonEntity> {
    const { people } = this.needs;
    const link = this.setUpLink;
    if (!link || people.hasOwner() || link.hash !== secretHash(token) || link.endsMs <= this.nowMs())
      throw spent('Start the server again: it says a new one while there is no owner.');
    await checkPassword(password, name);
    const passwordHash = await hashPassword(password);
    // two who followed the link at once: the first one is the owner
    if (this.setUpLink !== link) throw spent('Somebody else set Tonos up just now.');
    this.setUpLink = null;
    return people.alter(FIRST_PERSON, () => ({ name, role: 'owner', passwordHash }));
  }

  /** @returns null where name or password are wrong, and does not say which @throws HttpProblem 429 after too many wrong tries */
  signIn({ name, password }: SignIn, address: string, signedInAs: string | null): Promise<PersonEntity | null> {
    const { people, guessing } = this.needs;
    const person = people.named(name);
    const isOwn = person !== undefined && person.id === signedInAs;
    return guessing.counted(isOwn ? undefined : nameKey(name), address, async () =>
      (await isPassword(person?.passwordHash ?? null, password)) ? (person ?? null) : null,
    );
  }

  async invite({ role, titleIds }: NewInvitation, byId: string): Promise<string> {
    await this.needs.people.checkTitles(titleIds);
    return this.makeLink('join', { kind: 'join', role, titleIds, personId: null, byId }, INVITATION_MS);
  }

  /** Invitations that are good still. */
  async invitations(): Promise<Invitation[]> {
    const all = await this.needs.database
      .of(LinkEntity)
      .find({ where: { kind: 'join' }, order: { createdAt: 'DESC' } });
    return all
      .filter((link) => Date.parse(link.endsAt) > this.nowMs())
      .map(({ id, role, titleIds, byId, createdAt, endsAt }) => {
        return { id, role, titleIds, by: this.needs.people.refOf(byId), createdAt, endsAt };
      });
  }

  async withdraw(id: string): Promise<undefined> {
    const { affected } = await this.needs.database.transaction((manager) =>
      manager.delete(LinkEntity, { id, kind: 'join' }),
    );
    if (!affected) throw notFound('invitation', id);
  }

  /** A password that is refused does not use the link up. */
  async join({ token, name, password }: SetUp): Promise<PersonEntity> {
    const { people } = this.needs;
    const link = await this.linkOf('join', token, 'Ask for a new invitation.');
    people.checkFree(name);
    await checkPassword(password, name);
    const passwordHash = await hashPassword(password);
    const { role, titleIds: titles } = link;
    return people.add({ name, role, passwordHash, subject: null, titles }, (manager) => this.use(manager, link));
  }

  async makeWayBack(personId: string, byId: string): Promise<string> {
    const person = this.needs.people.get(personId);
    if (!person) throw notFound('person', personId);
    // the newest link is the only one
    await this.needs.database.transaction((manager) => manager.delete(LinkEntity, { kind: 'way-back', personId }));
    const { role } = person;
    return this.makeLink('way-back', { kind: 'way-back', role, titleIds: [], personId, byId }, WAY_BACK_MS);
  }

  async wayBack({ token, password }: WayBack): Promise<PersonEntity> {
    const { people } = this.needs;
    const link = await this.linkOf('way-back', token, 'Ask an owner for a new one.');
    const person = people.get(link.personId!);
    if (!person) throw spent('Ask an owner for a new one.');
    await checkPassword(password, person.name);
    const passwordHash = await hashPassword(password);
    return people.alter(
      person.id,
      () => ({ passwordHash }),
      (manager) => this.use(manager, link),
    );
  }

  private async makeLink(
    page: string,
    link: Omit<LinkEntity, 'id' | 'secretHash' | 'createdAt' | 'endsAt'>,
    lastsMs: number,
  ): Promise<string> {
    const { database, surroundings } = this.needs;
    const secret = newSecret();
    const row = {
      ...link,
      id: surroundings.newId(),
      secretHash: secretHash(secret),
      createdAt: surroundings.now(),
      endsAt: new Date(this.nowMs() + lastsMs).toISOString(),
    };
    await database.transaction((manager) => manager.insert(LinkEntity, row));
    return this.addressOf(page, secret);
  }

  private async linkOf(kind: LinkEntity['kind'], token: string, next: string): Promise<LinkEntity> {
    const link = await this.needs.database.of(LinkEntity).findOneBy({ kind, secretHash: secretHash(token) });
    if (!link || Date.parse(link.endsAt) <= this.nowMs()) throw spent(next);
    return link;
  }

  /** Two who follow a link at once: it goes with the first. */
  private async use(
    manager: { delete(entity: typeof LinkEntity, where: { id: string }): Promise<{ affected?: number | null }> },
    { id }: LinkEntity,
  ) {
    const { affected } = await manager.delete(LinkEntity, { id });
    if (!affected) throw spent('Somebody followed it just now.');
  }

  private addressOf(page: string, secret: string): string {
    return `${this.needs.origin}/${page}?token=${secret}`;
  }

  private nowMs(): number {
    return Date.parse(this.needs.surroundings.now());
  }
}

const spent = (next: string): HttpProblem =>
  new HttpProblem(410, 'link-spent', `This link was used, is too old, or is not whole. ${next}`);
