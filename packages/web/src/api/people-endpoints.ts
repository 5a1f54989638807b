import { type AccountQuery, type NoteChange, type NoteQuery, type PersonChange, ROUTES } from '@tonos/contract';
import { all, ask, type Body, type Build, byId, change } from './endpoint.ts';

/** Who works here, how they come in, and what they say to each other. */
export const peopleEndpoints = (build: Build) => ({
  me: ask(build, ROUTES.me, all, ['Me']),
  changeMe: change(build, ROUTES.changeMe, (body: Body<'changeMe'>) => ({ body }), ['Me', 'People']),
  setUp: change(build, ROUTES.setUp, (body: Body<'setUp'>) => ({ body })),
  join: change(build, ROUTES.join, (body: Body<'join'>) => ({ body })),
  signInWays: ask(build, ROUTES.signInWays, all),
  signIn: change(build, ROUTES.signIn, (body: Body<'signIn'>) => ({ body })),
  signOut: change(build, ROUTES.signOut, all),
  setPassword: change(build, ROUTES.wayBack, (body: Body<'wayBack'>) => ({ body })),
  presence: ask(build, ROUTES.presence, all, ['Presence']),
  beThere: change(build, ROUTES.beThere, (body: Body<'beThere'>) => ({ body })),
  sessions: ask(build, ROUTES.sessions, all, ['Me']),
  endSession: change(build, ROUTES.endSession, byId, ['Me']),
  people: ask(build, ROUTES.people, all, ['People']),
  changePerson: change(
    build,
    ROUTES.changePerson,
    ({ id, ...body }: { id: string } & PersonChange) => ({ ...byId(id), body }),
    ['People'],
  ),
  makeWayBack: change(build, ROUTES.makeWayBack, byId),
  invitations: ask(build, ROUTES.invitations, all, ['People']),
  invite: change(build, ROUTES.invite, (body: Body<'invite'>) => ({ body }), ['People']),
  withdrawInvitation: change(build, ROUTES.withdrawInvitation, byId, ['People']),
  tokens: ask(build, ROUTES.tokens, all, ['Me']),
  makeToken: change(build, ROUTES.makeToken, (body: Body<'makeToken'>) => ({ body }), ['Me']),
  endToken: change(build, ROUTES.endToken, byId, ['Me']),
  notes: ask(build, ROUTES.notes, (query: NoteQuery) => ({ query }), ['Notes']),
  openForMe: ask(build, ROUTES.openForMe, all, ['Notes']),
  addNote: change(build, ROUTES.addNote, (body: Body<'addNote'>) => ({ body }), ['Notes']),
  changeNote: change(
    build,
    ROUTES.changeNote,
    ({ id, ...body }: { id: string } & NoteChange) => ({ ...byId(id), body }),
    ['Notes'],
  ),
  removeNote: change(build, ROUTES.removeNote, byId, ['Notes']),
  account: ask(build, ROUTES.account, (query: AccountQuery) => ({ query }), ['Account']),
});
