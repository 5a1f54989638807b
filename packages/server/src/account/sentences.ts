import type { AccountKind, ROUTES } from '@tonos/contract';
import type { Given } from '../http/serve.ts';
import type { Names, Thing } from './names.ts';

export type RouteName = keyof typeof ROUTES;

/** What was done: the rest of a sentence that begins with who did it. */
export interface Said {
  kind: AccountKind;
  sentence: string;
  titleId?: string | null;
  chainId?: string | null;
}

export interface Told {
  params: Given['params'];
  // biome-ignore lint/suspicious/noExplicitAny: each sentence knows the body of its own call
  body: any;
  // biome-ignore lint/suspicious/noExplicitAny: and its reply
  reply: any;
  names: Names;
}

type Say = (told: Told) => Said | Promise<Said>;

const quoted = (name: string): string => `“${name}”`;
const count = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
const parts = (body: object): string =>
  Object.entries(body)
    .filter(([, value]) => value !== undefined)
    .map(([key]) => WORDS[key] ?? key)
    .join(', ');
/** What fields are called in sentences. */
const WORDS: Readonly<Record<string, string>> = {
  chainId: 'chain',
  targetId: 'target',
  inbox: 'watched folder',
  approvedOnly: 'approved revisions only',
  givenName: 'name',
  roomToneChoice: 'room tone',
  starred: 'star',
  archived: 'archive',
};

/** Something done to one thing that the path names. */
const to =
  (thing: Thing, kind: AccountKind, sentence: (name: string, told: Told) => string): Say =>
  async (told) => {
    const { name, titleId } = await told.names.of(thing, told.params.id);
    const chainId = thing === 'chain' ? told.params.id : null;
    return { kind, titleId, chainId, sentence: sentence(quoted(name), told) };
  };

const toItem =
  (sentence: (name: string, told: Told) => string): Say =>
  async (told) => {
    const { name, titleId } = await told.names.of('item', told.params.itemId);
    return { kind: 'run', titleId, sentence: sentence(quoted(name), told) };
  };

const people =
  (sentence: (told: Told) => string): Say =>
  (told) => ({ kind: 'people', sentence: sentence(told) });

const toMachine =
  (sentence: (name: string) => string): Say =>
  async ({ params, names }) => ({
    kind: 'people',
    sentence: sentence(quoted((await names.of('machine', params.id)).name)),
  });

/** What the account says of each call that changes something. */
export const SENTENCES: Partial<Record<RouteName, Say>> = {
  addTitle: ({ reply }) => ({ kind: 'title', titleId: reply.id, sentence: `made the title ${quoted(reply.name)}` }),
  changeTitle: to('title', 'title', (name, { body }) => {
    if (body.closed !== undefined) return body.closed ? `closed ${name}` : `opened ${name} to all`;
    return `changed ${parts(body)} of ${name}`;
  }),
  removeTitle: to('title', 'trash', (name) => `moved the title ${name} to the trash`),
  setCover: to('title', 'title', (name) => `gave ${name} a cover`),
  removeCover: to('title', 'title', (name) => `took the cover of ${name} away`),

  addRecordings: to('title', 'recording', (name, { reply }) => `added ${count(reply.length, 'recording')} to ${name}`),
  addFromFolder: to(
    'title',
    'recording',
    (name, { reply }) => `brought ${count(reply.length, 'recording')} into ${name}`,
  ),
  orderRecordings: to('title', 'title', (name) => `put the recordings of ${name} in another order`),
  useTake: to('recording', 'recording', (name) => `made this take of ${name} the current one`),
  changeRecording: to('recording', 'recording', (name, { body }) => `changed ${parts(body)} of ${name}`),
  setMark: to('recording', 'recording', (name, { body }) =>
    body.note ? `${body.note.state === 'done' ? 'settled' : 'wrote'} a note on ${name}` : `set marks on ${name}`,
  ),
  removeMark: to('recording', 'recording', (name) => `took marks off ${name}`),
  setBox: to('recording', 'recording', (name) => `turned boxes of ${name} down`),
  removeBox: to('recording', 'recording', (name) => `took boxes off ${name}`),
  setCut: to('recording', 'recording', (name) => `cut ${name}`),
  removeCut: to('recording', 'recording', (name) => `took cuts of ${name} back`),
  changeRecordings: async ({ body, reply, names }) => {
    const { ids, trashed, adjust, ...labels } = body;
    const { name, titleId } = await names.of('recording', ids[0]);
    const which = ids.length === 1 ? quoted(name) : `${count(reply.length, 'recording')}`;
    if (trashed !== undefined)
      return { kind: 'trash', titleId, sentence: trashed ? `moved ${which} to the trash` : `brought ${which} back` };
    return adjust
      ? { kind: 'recording', titleId, chainId: adjust.chainId, sentence: `adjusted steps for ${which}` }
      : { kind: 'recording', titleId, sentence: `changed ${parts(labels)} of ${which}` };
  },
  removeRecording: to('recording', 'trash', (name) => `moved ${name} to the trash`),
  makeSet: to('title', 'set', (name, { reply }) => `linked ${count(reply.members.length, 'recording')} of ${name}`),
  changeSet: to('set', 'set', () => 'laid a linked set otherwise'),
  removeSet: async ({ reply }) => ({ kind: 'set', titleId: reply?.titleId ?? null, sentence: 'unlinked a set' }),

  addChain: ({ reply }) => ({ kind: 'chain', chainId: reply.id, sentence: `made the chain ${quoted(reply.name)}` }),
  changeChain: to('chain', 'chain', (name, { body }) => `changed ${parts(body)} of the chain ${name}`),
  removeChain: to('chain', 'trash', (name) => `moved the chain ${name} to the trash`),
  keepRevision: to('chain', 'chain', (name, { body, reply }) =>
    withWhy(`kept revision ${reply.revision} of the chain ${name}`, body.note),
  ),
  approveChain: to('chain', 'chain', (name, { params, body }) =>
    withWhy(`approved revision ${params.revision} of the chain ${name}`, body.sentence),
  ),
  withdrawChainApproval: to(
    'chain',
    'chain',
    (name, { params }) => `approves revision ${params.revision} of the chain ${name} no longer`,
  ),

  addOrder: to('title', 'order', (name, { reply }) => `made the running order ${quoted(reply.name)} in ${name}`),
  removeOrder: to('order', 'trash', (name) => `moved the running order ${name} to the trash`),
  keepOrder: to('order', 'order', (name, { body, reply }) =>
    withWhy(`kept revision ${reply.revision} of the running order ${name}`, body.note),
  ),
  approveOrder: to('order', 'order', (name, { params, body }) =>
    withWhy(`approved revision ${params.revision} of the running order ${name}`, body.sentence),
  ),
  withdrawOrderApproval: to(
    'order',
    'order',
    (name, { params }) => `approves revision ${params.revision} of the running order ${name} no longer`,
  ),

  addPreset: ({ reply }) => ({ kind: 'preset', sentence: `made the preset ${quoted(reply.name)}` }),
  changePreset: to('preset', 'preset', (name) => `changed the preset ${name}`),
  removePreset: to('preset', 'trash', (name) => `moved the preset ${name} to the trash`),
  sendOut: ({ reply, body }) => ({
    kind: 'recording',
    titleId: reply[0]?.titleId ?? null,
    chainId: body.chainId,
    sentence: `sent out ${count(reply.length, 'recording')}${reply[0]?.stepTitle ? ` as they are after ${reply[0].stepTitle}` : ''}`,
  }),
  handInOuting: ({ reply }) => ({
    kind: 'recording',
    titleId: reply.titleId,
    sentence: `handed in ${quoted(reply.fileName)} from outside`,
  }),
  takeOutOuting: ({ reply }) => ({
    kind: 'recording',
    titleId: reply.titleId,
    sentence: `took ${quoted(reply.fileName)} out again`,
  }),
  forgetOuting: to('outing', 'recording', (name) => `waits for ${name} no more`),
  addModule: ({ reply: { manifest } }) => ({
    kind: 'module',
    sentence: `brought in the module ${quoted(`${manifest.name} ${manifest.version}`)}`,
  }),
  removeModule: to('module', 'trash', (name) => `moved the module ${name} to the trash`),
  setIndexPlace: ({ params }) => ({ kind: 'preset', sentence: `put something at the letter ${params.letter}` }),
  removeIndexPlace: ({ params }) => ({ kind: 'preset', sentence: `cleared the letter ${params.letter}` }),

  addTarget: ({ reply }) => ({ kind: 'target', sentence: `made the target ${quoted(reply.name)}` }),
  changeTarget: ({ reply }) => ({
    kind: 'target',
    sentence: `made version ${reply.version} of the target ${quoted(reply.name)}`,
  }),
  removeTarget: to('target', 'trash', (name) => `moved the target ${name} to the trash`),
  approveTarget: to('target', 'target', (name, { body }) => withWhy(`approved the target ${name}`, body.sentence)),
  withdrawTargetApproval: to('target', 'target', (name) => `approves the target ${name} no longer`),

  startRun: ({ reply }) => ({
    kind: 'run',
    titleId: reply.titleId,
    chainId: reply.chainId || null,
    sentence: `started a run of ${quoted(reply.chainName)}, revision ${reply.revision}, over ${count(reply.items.length, 'recording')} for ${reply.targetName}${reply.unapproved.length ? `, though ${reply.unapproved.join(' and ')}` : ''}`,
  }),
  itemAsRecording: ({ reply }) => ({
    kind: 'recording',
    titleId: reply.titleId,
    sentence: `took the delivery ${quoted(reply.name)} in as a recording of its own`,
  }),
  removeRun: to('run', 'trash', (name) => `moved the run of ${name} to the trash`),
  cancelRun: to('run', 'run', (name) => `cancelled the run of ${name}`),
  changeRun: to('run', 'run', (name, { body }) => {
    if (body.first) return `put the run of ${name} first`;
    return `${body.paused ? 'paused' : 'let go on'} the run of ${name}`;
  }),
  retryRun: to('run', 'run', (name, { body }) =>
    body.itemIds
      ? `rendered ${count(body.itemIds.length, 'item')} of the run of ${name} again`
      : `tried failed items of the run of ${name} again`,
  ),
  remakeRun: to('run', 'run', (name) => `had cleared files of the run of ${name} made again`),
  remedies: to('run', 'run', (name, { body, reply }) =>
    body.apply ? `applied what brings ${count(reply.length, 'item')} of the run of ${name} inside` : '',
  ),
  acceptItem: toItem((name, { body }) => withWhy(`accepted ${name}`, body.reason)),
  withdrawAcceptance: toItem((name) => `accepts ${name} no longer`),
  useAttempt: toItem((name) => `delivers an earlier outcome of ${name}`),
  deliverToFolder: to('run', 'run', (name, { reply }) => `delivered the run of ${name} as ${quoted(reply.name)}`),

  addNote: async ({ body, names }) => {
    const { name, titleId } = await names.of(body.about.kind, body.about.id);
    const chainId = body.about.kind === 'chain' ? body.about.id : null;
    return { kind: 'note', titleId, chainId, sentence: `wrote a note on ${quoted(name)}` };
  },
  changeNote: async ({ body, reply, names }) => {
    const { name, titleId } = await names.of(reply.about.kind, reply.about.id);
    const chainId = reply.about.kind === 'chain' ? reply.about.id : null;
    const did = body.text ? 'changed' : body.done ? 'settled' : 'opened again';
    return { kind: 'note', titleId, chainId, sentence: `${did} a note on ${quoted(name)}` };
  },
  removeNote: () => ({ kind: 'note', sentence: 'took a note away' }),

  restoreTrashed: async ({ body, names }) => {
    const { name, titleId } = await names.of(body.kind, body.id);
    return { kind: 'trash', titleId, sentence: `brought ${quoted(name)} back from the trash` };
  },
  emptyTrash: ({ reply }) => ({
    kind: 'trash',
    sentence: `removed ${count(reply.removed.length, 'thing')} from the trash for good`,
  }),
  clearUnused: () => ({ kind: 'storage', sentence: 'deleted files that nothing needs' }),
  clearRenders: async ({ body, names }) => {
    const { name } = await names.of('title', body.titleId);
    return { kind: 'storage', titleId: body.titleId, sentence: `cleared delivered files of ${quoted(name)}` };
  },

  changeMe: people(({ body }) => (body.password ? 'set a new password' : `is called ${quoted(body.name)} now`)),
  changePerson: people(({ body, reply }) => {
    if (body.left) return `ended the work of ${quoted(reply.name)} here`;
    if (body.role) return `made ${quoted(reply.name)} ${body.role}`;
    return `changed which closed titles ${quoted(reply.name)} knows of`;
  }),
  makeWayBack: async ({ params, names }) => ({
    kind: 'people',
    sentence: `made a link by which ${quoted((await names.of('person', params.id)).name)} sets a new password`,
  }),
  invite: people(({ body }) => `invited somebody as ${body.role}`),
  withdrawInvitation: people(() => 'withdrew an invitation'),
  endSession: people(() => 'ended one of their sessions'),
  makeToken: people(
    ({ reply }) => `made the token ${quoted(reply.name)} as ${reply.role}, until ${reply.endsAt.slice(0, 10)}`,
  ),
  endToken: people(() => 'ended a token'),
  makeWorkerToken: people(({ body }) => `made the worker token ${quoted(body.name)}`),
  endWorkerToken: people(() => 'ended a worker token'),
  drainMachine: toMachine((name) => `let the machine ${name} end what it had`),
  resumeMachine: toMachine((name) => `took the machine ${name} back in`),
  forgetMachine: people(() => 'forgot a machine'),
};

function withWhy(sentence: string, why: string | undefined): string {
  return why ? `${sentence}: ${why}` : sentence;
}

/** Calls that are no GET and of which the account says nothing, and why. */
export const SILENT: Partial<Record<RouteName, string>> = {
  ledger: 'it measures and changes nothing',
  orderLedger: 'it measures and changes nothing',
  forecast: 'it measures and changes nothing',
  checkStorage: 'it looks and changes nothing',
  saveDraft: 'a draft says itself whose it is and since when',
  dropDraft: 'it was nobody else’s',
  saveOrderDraft: 'a draft says itself whose it is and since when',
  dropOrderDraft: 'it was nobody else’s',
  uploadBegin: 'nothing has come yet',
  uploadPart: 'what came is told when it is whole',
  beThere: 'it says where somebody looks',
  workHello: 'a machine is no person',
  workClaim: 'a machine is no person',
  workBeat: 'a machine is no person',
  workComplete: 'a machine is no person',
  workRelease: 'a machine is no person',
  workSend: 'a machine is no person',
  setUp: 'the way in is told where it is gone',
  signIn: 'the way in is told where it is gone',
  join: 'the way in is told where it is gone',
  wayBack: 'the way in is told where it is gone',
  signOut: 'the way out is told where it is gone',
};
