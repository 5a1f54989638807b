import { AsyncLocalStorage } from 'node:async_hooks';
import { type Role, reaches } from '@tonos/contract';
import { HttpProblem } from './problems.ts';

/** Who makes a call. */
export interface Caller {
  readonly personId: string;
  readonly name: string;
  /** What this call may; of a token it can be less than the person's own. */
  readonly role: Role;
  /** The session or token that it came with; null where there is but one person. */
  readonly credential: { kind: 'session' | 'token'; id: string } | null;
  /** Whether they may know of a title, and of what belongs to it. */
  sees(titleId: string): boolean;
}

const asked = new AsyncLocalStorage<Caller>();

/** What the server does by itself: at its start, and for watched folders. */
const THE_SERVER: Caller = { personId: 'first', name: '', role: 'owner', credential: null, sees: () => true };

/** Whoever this work is done for. Services ask when they write down who did something. */
export const caller = (): Caller => asked.getStore() ?? THE_SERVER;

/** Whether nobody asked for what is done: it is the server's own work. */
export const isByItself = (): boolean => asked.getStore() === undefined;

export const asCaller = <T>(who: Caller, work: () => T): T => asked.run(who, work);

/** @param act completes "may not": "approve revisions". @throws HttpProblem 403 */
export function checkRole(least: Role, act: string): void {
  const { role } = caller();
  if (!reaches(role, least)) throw roleTooLow(role, least, act);
}

export const roleTooLow = (role: Role, least: Role, act: string): HttpProblem =>
  new HttpProblem(
    403,
    'role-too-low',
    `You are ${WITH_ARTICLE[role]} here, and may not ${act}: that takes ${WITH_ARTICLE[least]}.`,
    {
      role,
      least,
    },
  );

const WITH_ARTICLE: Readonly<Record<Role, string>> = {
  owner: 'an owner',
  lead: 'a lead',
  engineer: 'an engineer',
  listener: 'a listener',
};
