import * as z from 'zod';
import { accountEntry, accountQuery } from './account.ts';
import { newNote, note, noteChange, noteQuery, openForMe } from './note.ts';
import {
  accessToken,
  invitation,
  invitationMade,
  me,
  meChange,
  newInvitation,
  newToken,
  person,
  personChange,
  presence,
  session,
  setUp,
  signedIn,
  signIn,
  signInWays,
  tokenMade,
  wayBack,
  whereabouts,
} from './people.ts';
import { anybody, listener, owner } from './route.ts';

/** Who works here, how they come in, and what they say to each other. */
export const PEOPLE_ROUTES = {
  me: listener.get('/api/me', 'Who asks.', { reply: me }),
  changeMe: listener.patch('/api/me', 'One\u2019s own name or password.', { body: meChange, reply: me }),
  setUp: anybody.post('/api/setup', 'The first owner, by the link that the server says at its start.', {
    body: setUp,
    reply: signedIn,
    shared: true,
  }),
  signIn: anybody.post('/api/session', 'Sign in.', { body: signIn, reply: signedIn, shared: true }),
  signInWays: anybody.get('/api/session/ways', 'How one can sign in.', { reply: signInWays, shared: true }),
  signOut: listener.remove('/api/session', 'Sign out.', { shared: true }),
  wayBack: anybody.post('/api/session/way-back', 'A new password, by a link that an owner made.', {
    body: wayBack,
    reply: signedIn,
    shared: true,
  }),
  toProvider: anybody.get('/api/session/provider', 'To the house\u2019s own sign-in.', {
    streams: 'text/html',
    status: 302,
    shared: true,
  }),
  fromProvider: anybody.get('/api/session/provider/back', 'Back from the house\u2019s own sign-in.', {
    streams: 'text/html',
    status: 302,
    shared: true,
  }),
  presence: listener.get('/api/session/presence', 'Who is where now.', { reply: z.array(presence), shared: true }),
  beThere: listener.put('/api/session/presence', 'Say where one is; said again every 20 seconds.', {
    body: whereabouts,
    reply: z.array(presence),
    shared: true,
  }),
  sessions: listener.get('/api/sessions', 'One\u2019s own sessions.', { reply: z.array(session), shared: true }),
  endSession: listener.remove('/api/sessions/:id', 'End one of one\u2019s own sessions.', { shared: true }),
  people: listener.get('/api/people', 'Everybody who works here.', { reply: z.array(person), shared: true }),
  changePerson: owner.patch('/api/people/:id', 'Role and closed titles of a person, or their leaving.', {
    body: personChange,
    reply: person,
    shared: true,
  }),
  makeWayBack: owner.post('/api/people/:id/way-back', 'A link by which a person sets a new password.', {
    reply: invitationMade,
    shared: true,
  }),
  invitations: owner.get('/api/invitations', 'Links that nobody has followed yet.', {
    reply: z.array(invitation),
    shared: true,
  }),
  invite: owner.post('/api/invitations', 'A link by which somebody joins.', {
    body: newInvitation,
    reply: invitationMade,
    shared: true,
  }),
  withdrawInvitation: owner.remove('/api/invitations/:id', 'A link that is good no more.', { shared: true }),
  join: anybody.post('/api/invitations/accept', 'Join, by an invitation.', {
    body: setUp,
    reply: signedIn,
    shared: true,
  }),
  tokens: listener.get('/api/tokens', 'One\u2019s own tokens; owners see all.', {
    reply: z.array(accessToken),
    shared: true,
  }),
  makeToken: listener.post('/api/tokens', 'A token for the command and for scripts; it is told once.', {
    body: newToken,
    reply: tokenMade,
    shared: true,
  }),
  endToken: listener.remove('/api/tokens/:id', 'End a token at once.', { shared: true }),
  account: listener.get('/api/account', 'Who did what, the newest first; as CSV where that is asked for.', {
    query: accountQuery,
    reply: z.array(accountEntry),
  }),

  notes: listener.get('/api/notes', 'What people say about a chain, a recording or an item.', {
    query: noteQuery,
    reply: z.array(note),
  }),
  openForMe: listener.get('/api/notes/for-me', 'Notes that name who asks, and that nobody has seen to.', {
    reply: z.array(openForMe),
  }),
  addNote: listener.post('/api/notes', 'Say something; @ and a name tells a colleague.', {
    body: newNote,
    reply: note,
  }),
  changeNote: listener.patch('/api/notes/:id', 'Change a note, or see to it.', { body: noteChange, reply: note }),
  removeNote: listener.remove('/api/notes/:id', 'Take a note away.'),
} as const;
