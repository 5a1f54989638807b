import type { MeChange, Person, PersonChange, PersonRef, Role } from '@tonos/contract';
import { type EntityManager, IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { Credentials } from './credentials.ts';
import { checkPassword, hashPassword } from './passwords.ts';
import { FIRST_PERSON, PersonEntity } from './person-entity.ts';
import type { Identity } from './provider.ts';

/** Names that are told apart: capitals and ways of writing the same sign do not count. */
export const nameKey = (name: string): string => name.trim().normalize('NFKC').toLowerCase();

/** Everybody who works here or did, and which titles only some of them know of. All of it lies in memory: every call asks. */
export class People {
  private readonly all = new Map<string, PersonEntity>();
  private readonly closed = new Set<string>();

  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
    private readonly credentials: Credentials,
    private readonly surroundings: Surroundings,
  ) {}

  async load(): Promise<void> {
    for (const person of await this.database.of(PersonEntity).find()) this.all.set(person.id, person);
    const closed = await this.database.of(TitleEntity).find({ where: { closed: true }, select: { id: true } });
    for (const { id } of closed) this.closed.add(id);
  }

  list(): PersonEntity[] {
    return [...this.all.values()].filter((person) => person.id !== FIRST_PERSON || person.name !== '');
  }

  /** Whoever is there still. */
  get(id: string): PersonEntity | undefined {
    const person = this.all.get(id);
    return person && person.leftAt === null ? person : undefined;
  }

  named(name: string): PersonEntity | undefined {
    const key = nameKey(name);
    return [...this.all.values()].find((one) => one.leftAt === null && one.name !== '' && nameKey(one.name) === key);
  }

  refOf(id: string): PersonRef {
    return { id, name: this.all.get(id)?.name ?? '' };
  }

  /** Whether somebody can sign in who may do everything. */
  hasOwner(): boolean {
    return [...this.all.values()].some(isOwnerWhoCanSignIn);
  }

  sees(personId: string, role: Role, titleId: string): boolean {
    return role === 'owner' || !this.closed.has(titleId) || (this.all.get(personId)?.titles.includes(titleId) ?? false);
  }

  /** Closed titles that somebody may not know of. */
  hiddenFrom(personId: string, role: Role): string[] {
    return [...this.closed].filter((titleId) => !this.sees(personId, role, titleId));
  }

  /** Tells apart from now on who may know of a title. Who closes it goes on knowing of it. */
  async setClosed(titleId: string, closed: boolean, byPersonId: string): Promise<void> {
    if (closed) {
      const by = this.all.get(byPersonId);
      if (by && by.role !== 'owner' && !by.titles.includes(titleId))
        await this.alter(by.id, ({ titles }) => ({ titles: [...titles, titleId] }));
      this.closed.add(titleId);
    } else this.closed.delete(titleId);
    this.bus.publish({ type: 'people' });
  }

  /** @throws HttpProblem 409 where somebody is called so already */
  checkFree(name: string, but?: string): void {
    const other = this.named(name);
    if (other && other.id !== but)
      throw new HttpProblem(
        409,
        'name-taken',
        `Somebody here is called “${other.name}”. Add something that tells you apart.`,
      );
  }

  /** @throws HttpProblem 404, 409 for the last owner, or a title that is not there */
  async change(id: string, { role, titles, left }: PersonChange): Promise<PersonEntity> {
    const person = this.all.get(id);
    if (!person) throw notFound('person', id);
    if (left === false) throw new HttpProblem(409, 'has-left', `Who has left joins again by an invitation.`);
    if (person.leftAt !== null) throw new HttpProblem(409, 'has-left', `${person.name} has left. Invite them again.`);
    if (titles) await this.checkTitles(titles);
    const isLess = left || (role !== undefined && role !== 'owner');
    const changed = await this.alter(id, (now) => {
      if (isLess) this.checkOtherOwner(now);
      return {
        ...(role && { role }),
        ...(titles && { titles: [...new Set(titles)] }),
        ...(left && { leftAt: this.surroundings.now(), passwordHash: null, subject: null }),
      };
    });
    if (left) await this.credentials.endAllOf(id);
    else if (role && role !== person.role) this.credentials.renewAllOf(id);
    this.bus.publish({ type: 'people' });
    return changed;
  }

  /** @param isRight says whether the old password is, where a new one is wanted */
  async changeMe(
    id: string,
    { name, password }: MeChange,
    isRight: (person: PersonEntity) => Promise<boolean>,
  ): Promise<PersonEntity> {
    const person = this.get(id);
    if (!person) throw notFound('person', id);
    if (password) {
      if (!(await isRight(person)))
        throw new HttpProblem(403, 'wrong-password', 'The old password is another one. Nothing was changed.');
      await checkPassword(password.new, name ?? person.name);
    }
    const passwordHash = password && (await hashPassword(password.new));
    const changed = await this.alter(id, () => {
      if (name !== undefined) this.checkFree(name, id);
      return { ...(name !== undefined && { name }), ...(passwordHash && { passwordHash }) };
    });
    this.bus.publish({ type: 'people' });
    return changed;
  }

  /**
   * Whoever the house's own sign-in says it is, made where they come for the first time. The house says their role, but does not lower the
   * last owner, and a name alone makes nobody the person who is called so here.
   */
  async identified({ subject, name, role }: Identity): Promise<PersonEntity> {
    const known = [...this.all.values()].find((one) => one.subject === subject && one.leftAt === null);
    if (known) return known.role === role ? known : this.change(known.id, { role }).catch(() => known);
    let free = name;
    for (let n = 2; this.named(free); n++) free = `${name} ${n}`;
    return this.add({ name: free, role, passwordHash: null, subject, titles: [] });
  }

  async checkTitles(ids: readonly string[]): Promise<void> {
    for (const id of new Set(ids))
      if (!(await this.database.of(TitleEntity).existsBy({ id, trashedAt: IsNull() }))) throw notFound('title', id);
  }

  /**
   * Changes somebody as they are when their turn comes: while a password was hashed they may have been lowered, or have left, and that stays.
   * @param change of them as they are then; throws where it can't be made @param also what is to be written with it, all or nothing
   * @throws HttpProblem 409 where they have left meanwhile
   */
  async alter(
    id: string,
    change: (now: PersonEntity) => Partial<PersonEntity>,
    also: (manager: EntityManager) => Promise<unknown> = async () => {},
  ): Promise<PersonEntity> {
    return this.database.transaction(async (manager) => {
      const now = this.get(id);
      if (!now)
        throw new HttpProblem(409, 'has-left', `${this.refOf(id).name} has left meanwhile. Nothing was changed.`);
      const changed = { ...now, ...change(now) };
      await also(manager);
      this.all.set(id, await manager.save(PersonEntity, changed));
      return changed;
    });
  }

  /** Somebody new, under a name that is free still when their turn comes. @param also as for `alter` */
  async add(
    given: Omit<PersonEntity, 'id' | 'createdAt' | 'leftAt'>,
    also: (manager: EntityManager) => Promise<unknown> = async () => {},
  ): Promise<PersonEntity> {
    const { newId, now } = this.surroundings;
    const person = { ...given, id: newId(), createdAt: now(), leftAt: null };
    await this.database.transaction(async (manager) => {
      this.checkFree(person.name);
      await also(manager);
      await manager.insert(PersonEntity, person);
      this.all.set(person.id, person);
    });
    this.bus.publish({ type: 'people' });
    return person;
  }

  /** @throws HttpProblem 409 for the last one who may do everything */
  private checkOtherOwner(person: PersonEntity): void {
    const isOther = (one: PersonEntity) => one.id !== person.id && isOwnerWhoCanSignIn(one);
    if (isOwnerWhoCanSignIn(person) && ![...this.all.values()].some(isOther))
      throw new HttpProblem(409, 'last-owner', `${person.name} is the last owner. Make somebody else an owner first.`);
  }
}

const isOwnerWhoCanSignIn = ({ role, leftAt, passwordHash, subject }: PersonEntity): boolean =>
  role === 'owner' && leftAt === null && (passwordHash !== null || subject !== null);

/** @param toOwner owners see which closed titles somebody knows of */
export const describePerson = (
  { id, name, role, titles, leftAt, createdAt }: PersonEntity,
  toOwner: boolean,
): Person => ({
  id,
  name,
  role,
  ...(toOwner && { titles }),
  left: leftAt !== null,
  createdAt,
});
