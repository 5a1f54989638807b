import { configureStore } from '@reduxjs/toolkit';
import { ROUTES } from '@tonos/contract';
import { SHIPPED_TARGETS } from '@tonos/core';
import type { ZodType } from 'zod';
import type { AppDispatch } from '../app/store.ts';
import { answerPage } from '../testing/answer-page.ts';
import { api } from './api.ts';
import { reasonOf } from './reason-of.ts';

const FIRST_PAGE = { from: '0', count: '100' };
const ORDER = { format: 'tonos.order/1', name: 'Weekly', groups: [], parts: [] };

/** What each call of the page is given here; those that are not named take an id alone. */
const GIVEN: Readonly<Record<string, unknown>> = {
  changeMe: { name: 'Odile Brandt' },
  setUp: { token: 't', name: 'Odile Brandt', password: 'p' },
  join: { token: 't', name: 'Odile Brandt', password: 'p' },
  signIn: { name: 'Odile Brandt', password: 'p' },
  setPassword: { token: 't', password: 'p' },
  beThere: { titleId: 'a', chainId: null },
  changePerson: { id: 'a', role: 'lead' },
  invite: { role: 'lead', titleIds: ['a'] },
  makeToken: { name: 'build', role: 'engineer', days: 30 },
  makeWorkerToken: { name: 'studio' },
  account: { titleId: 'a', most: 50 },
  notes: { kind: 'chain', id: 'a' },
  addNote: { about: { kind: 'chain', id: 'a', stepId: null }, text: 'See @Odile' },
  changeNote: { id: 'a', done: true },
  approveChain: { id: 'a', revision: 2, sentence: 'Heard' },
  withdrawChainApproval: { id: 'a', revision: 2 },
  approveTarget: { id: 'a', sentence: 'Heard' },
  approveOrder: { id: 'a', revision: 2, sentence: 'Heard' },
  withdrawOrderApproval: { id: 'a', revision: 2 },
  setMark: { id: 'a', markId: 'b', name: 'Here', startSeconds: 1, endSeconds: 1 },
  removeMark: { id: 'a', markId: 'b' },
  setBox: { id: 'a', boxId: 'b', startSeconds: 1, endSeconds: 2, lowHz: 100, highHz: 200, gainDb: -6 },
  removeBox: { id: 'a', boxId: 'b' },
  throwAway: { kind: 'chain', id: 'a' },
  restoreTrashed: { kind: 'preset', id: 'a' },
  emptyTrash: { kind: 'title', id: 'a' },
  changeTitle: { id: 'a', name: 'The Weir' },
  setCover: { id: 'a', file: new Blob([], { type: 'image/png' }) },
  sendOut: { recordingIds: ['a'], chainId: null, stepId: null },
  handInOuting: { id: 'a', file: new Blob([], { type: 'audio/wav' }) },
  itemAsRecording: { runId: 'a', itemId: 'b' },
  addModule: { name: 'tilt.wasm', file: new Blob([], { type: 'application/wasm' }) },
  addTitle: { name: 'The Weir', kind: 'podcast' },
  folder: { root: 0, path: 'a b/\u00e4&c' },
  bringFromFolder: { titleId: 'a', path: 'in', files: ['1.wav'] },
  orderRecordings: { titleId: 'a', recordingIds: ['b', 'c'] },
  changeRecordings: { ids: ['a'], speaker: 'Ada' },
  changeRecording: { id: 'a', marks: [] },
  revision: { id: 'a', revision: 2 },
  addChain: { name: 'Studio', steps: [] },
  changeChain: { id: 'a', name: 'Studio' },
  addPreset: { format: 'tonos.preset/1', kind: 'gain', name: 'Up', settings: {} },
  changePreset: { id: 'a', name: 'Down' },
  setIndexPlace: { letter: 'q', name: 'Voice', content: { kind: 'chain', chainId: 'a' } },
  removeIndexPlace: 'q',
  keepRevision: { id: 'a', steps: [], note: '', version: 3 },
  saveDraft: { id: 'a', steps: [], basedOn: 1, version: 3 },
  dropDraft: { id: 'a', version: 3 },
  recordingView: { id: 'a', from: 0, to: 10, columns: 40 },
  orderRevision: { id: 'a', revision: 2 },
  addOrder: { titleId: 'a', order: ORDER },
  keepOrder: { id: 'a', order: ORDER, note: '', author: '', version: 3 },
  saveOrderDraft: { id: 'a', order: ORDER, basedOn: 1, author: '', version: 3 },
  dropOrderDraft: { id: 'a', version: 3 },
  addTarget: SHIPPED_TARGETS[0],
  changeTarget: { id: 'a', file: SHIPPED_TARGETS[1] },
  outputOverview: { runId: 'a', itemId: 'b', sha256: 'c' },
  startRun: { titleId: 'a', recordingIds: ['b'], chainId: 'c', targetId: 'd' },
  makeSet: { titleId: 'a', recordingIds: ['b', 'c'] },
  changeSet: {
    id: 'a',
    members: ['b', 'c'].map((recordingId) => ({ recordingId, offsetSeconds: 0, driftPpm: 0, confidence: 1 })),
  },
  setCut: { id: 'a', cutId: 'b', cut: { kind: 'pause', on: true, atSeconds: 1, lengthSeconds: 2 } },
  removeCut: { id: 'a', cutId: 'b' },
  acceptItem: { runId: 'a', itemId: 'b', reason: 'It has to go out' },
  withdrawAcceptance: { runId: 'a', itemId: 'b' },
  changeRun: { id: 'a', paused: true },
  attempts: { runId: 'a', itemId: 'b' },
  useAttempt: { runId: 'a', itemId: 'b', attemptId: 'c' },
  deliverToFolder: { runId: 'a', root: 0, path: 'out' },
  findRemedies: { id: 'a', itemIds: ['b'], apply: true },
  retryRun: { id: 'a', itemIds: ['b'] },
};

interface Call {
  method: string;
  path: string;
  query: URLSearchParams;
  body: unknown;
}

let calls: Call[];
let putBack: () => void;
beforeEach(() => {
  calls = [];
  putBack = answerPage(async (request) => {
    const { pathname: path, searchParams: query } = new URL(request.url);
    const text = await request.text();
    const isJson = request.headers.get('content-type')?.includes('json');
    calls.push({ method: request.method, path, query, body: isJson ? JSON.parse(text) : undefined });
    return Response.json(path.endsWith('/recordings') ? [] : { items: [] });
  });
});
afterEach(() => putBack());

const pattern = (path: string) => new RegExp(`^${path.replace(/:\w+/g, '[^/]+')}$`);

it.each(Object.keys(api.endpoints))('%s is a call that the server has, with what it takes', async (name) => {
  const store = configureStore({
    reducer: { [api.reducerPath]: api.reducer },
    middleware: (defaults) => defaults({ serializableCheck: false }).concat(api.middleware),
  });
  const dispatch = store.dispatch as unknown as AppDispatch;
  const endpoint = api.endpoints[name as 'chain'];
  await dispatch(endpoint.initiate((GIVEN[name] ?? 'a') as string));
  dispatch(api.util.resetApiState()); // nothing is kept for later
  expect(calls).toHaveLength(1);
  const [{ method, path, query, body }] = calls;
  const route = Object.values(ROUTES).find(
    (one) => one.method === method.toLowerCase() && pattern(one.path).test(path),
  );
  if (!route) throw new Error(`The server has no ${method} ${path}`);
  if ('query' in route && route.query)
    expect(route.query.safeParse(Object.fromEntries(query))).toMatchObject({ success: true });
  // a long list is asked for in pages
  for (const value of query.values()) expect(JSON.stringify(GIVEN[name] ?? FIRST_PAGE)).toContain(value);
  // what it sends is what the server reads
  if (body !== undefined) expect((route.body as ZodType).safeParse(body)).toMatchObject({ success: true });
});

it('tells what a call has to say that failed, whoever failed', () => {
  expect(reasonOf({ status: 409, data: { detail: 'It is being measured.' } })).toBe('It is being measured.');
  expect(reasonOf({ status: 'FETCH_ERROR', error: 'TypeError: Failed to fetch' })).toBe('TypeError: Failed to fetch');
  expect(reasonOf({})).toMatch(/did not answer/);
});
