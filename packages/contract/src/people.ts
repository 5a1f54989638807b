import * as z from 'zod';

/** From what may only be looked at to all that there is: each may do what those before it may. */
export const ROLES = ['listener', 'engineer', 'lead', 'owner'] as const;
export const role = z.enum(ROLES);
export type Role = z.output<typeof role>;

/** Whether a role reaches as far as another. */
export const reaches = (own: Role, least: Role): boolean => ROLES.indexOf(own) >= ROLES.indexOf(least);

export const SHORTEST_PASSWORD = 12;

/** How a person is called, and signs in. */
const personName = z
  .string()
  .trim()
  .min(1, 'A person needs a name.')
  .max(100)
  // what turns the direction of writing, and what can't be seen, would let one name look like another
  .regex(/^[^\p{Cc}\p{Cf}\p{Zl}\p{Zp}]*$/u, 'A name has no signs that can\u2019t be seen.');
/** Long ones are fine; what is longer than a page is an attack. */
const password = z.string().max(1000);
const token = z.string().max(200);

export const signIn = z.strictObject({ name: z.string().max(10_000), password });
/** What a one-time link is answered with. */
export const setUp = z.strictObject({ token, name: personName, password });
export const wayBack = z.strictObject({ token, password });

/** What everybody may know of a colleague. */
export const personRef = z.object({ id: z.string(), name: z.string() });

export const person = personRef.extend({
  role,
  /** Which closed titles they know of; owners are told. */
  titles: z.array(z.string()).optional(),
  /** They are gone: what they did stays theirs. */
  left: z.boolean(),
  createdAt: z.string(),
});

export const me = person.extend({
  /** Whether others work here too. */
  shared: z.boolean(),
  /** Whether they have a password, or come by the house's own sign-in. */
  hasPassword: z.boolean(),
});

export const meChange = z
  .strictObject({
    name: personName,
    password: z.strictObject({ old: password, new: password }),
  })
  .partial();

export const personChange = z
  .strictObject({ role, titles: z.array(z.string()).max(10_000), left: z.boolean() })
  .partial();

export const signedIn = z.object({ person });

/** How one can sign in here. */
export const signInWays = z.object({
  password: z.boolean(),
  /** The house's own: what its button says; null where there is none. */
  provider: z.string().nullable(),
});

export const session = z.object({
  id: z.string(),
  createdAt: z.string(),
  lastUsedAt: z.string(),
  /** What the browser says of itself. */
  browser: z.string(),
  /** The one that asks. */
  current: z.boolean(),
});

export const newInvitation = z.strictObject({ role, titleIds: z.array(z.string()).max(10_000).default([]) });
export const invitationMade = z.object({ url: z.string() });
export const invitation = z.object({
  id: z.string(),
  role,
  titleIds: z.array(z.string()),
  by: personRef,
  createdAt: z.string(),
  endsAt: z.string(),
});

export const newToken = z.strictObject({
  name: z.string().trim().min(1, 'A token needs a name.').max(100),
  role,
  days: z.number().int().min(1).max(366),
});
export const accessToken = z.object({
  id: z.string(),
  name: z.string(),
  role,
  person: personRef,
  createdAt: z.string(),
  endsAt: z.string(),
  lastUsedAt: z.string().nullable(),
});
/** The one time that it is told. */
export const tokenMade = accessToken.extend({ token: z.string() });

/** Where somebody is: at a title, at a chain, or somewhere else. */
export const whereabouts = z.strictObject({ titleId: z.string().nullable(), chainId: z.string().nullable() });
export const presence = whereabouts.extend({ person: personRef, since: z.string() });

export type Person = z.output<typeof person>;
export type PersonRef = z.output<typeof personRef>;
export type Me = z.output<typeof me>;
export type MeChange = z.output<typeof meChange>;
export type PersonChange = z.output<typeof personChange>;
export type SignIn = z.output<typeof signIn>;
export type SetUp = z.output<typeof setUp>;
export type WayBack = z.output<typeof wayBack>;
export type Session = z.output<typeof session>;
export type SignInWays = z.output<typeof signInWays>;
export type NewInvitation = z.output<typeof newInvitation>;
export type Invitation = z.output<typeof invitation>;
export type NewToken = z.output<typeof newToken>;
export type AccessToken = z.output<typeof accessToken>;
export type TokenMade = z.output<typeof tokenMade>;
export type Whereabouts = z.output<typeof whereabouts>;
export type Presence = z.output<typeof presence>;
