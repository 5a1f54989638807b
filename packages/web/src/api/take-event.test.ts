import { configureStore } from '@reduxjs/toolkit';
import type { Recording, RunItem, RunSummary, ServerEvent } from '@tonos/contract';
import type { AppDispatch } from '../app/store.ts';
import { answerPage } from '../testing/answer-page.ts';
import { api } from './api.ts';
import { progressSlice } from './progress-slice.ts';
import { take } from './take-event.ts';

const recording = (id: string, status: Recording['status'], more: Partial<Recording> = {}) =>
  ({ id, titleId: 't', status, trashedAt: null, ...more }) as Recording;

/** Answers wait until they are let go: what is on its way can be overtaken. */
let letGo: ((body: unknown) => void)[];
let putBack: () => void;
beforeEach(() => {
  letGo = [];
  putBack = answerPage(
    () =>
      new Promise((resolve) => {
        letGo.push((body) => resolve(Response.json(body)));
      }),
  );
});
afterEach(() => putBack());

function opened() {
  const store = configureStore({
    reducer: { [api.reducerPath]: api.reducer, progress: progressSlice.reducer },
    middleware: (defaults) => defaults().concat(api.middleware),
  });
  const dispatch = store.dispatch as unknown as AppDispatch;
  const asked = async () => {
    while (!letGo.length) await new Promise((resolve) => setTimeout(resolve, 1));
    return letGo.shift()!;
  };
  return { dispatch, asked, known: () => store.getState() as never };
}

it('puts what is told in place of what was known, adds what is new, and lets go what lies in the trash', async () => {
  const { dispatch, asked, known } = opened();
  const query = dispatch(api.endpoints.recordings.initiate('t'));
  (await asked())([recording('a', 'measuring'), recording('b', 'ready')]);
  await query;
  take({ type: 'recording', recording: recording('a', 'ready') }, dispatch);
  take({ type: 'recording', recording: recording('c', 'measuring') }, dispatch);
  take({ type: 'recording', recording: recording('b', 'ready', { trashedAt: 'now' }) }, dispatch);
  const { data } = api.endpoints.recordings.select('t')(known());
  expect(data!.map(({ id, status }) => [id, status])).toEqual([
    ['a', 'ready'],
    ['c', 'measuring'],
  ]);
});

it('P7: a new take takes the place of the old one in the title', async () => {
  const { dispatch, asked, known } = opened();
  const query = dispatch(api.endpoints.recordings.initiate('t'));
  (await asked())([recording('old', 'ready')]);
  await query;
  take({ type: 'recording', recording: recording('new', 'measuring') }, dispatch);
  take({ type: 'recording', recording: recording('old', 'ready', { superseded: true }) }, dispatch);
  expect(
    api.endpoints.recordings
      .select('t')(known())
      .data!.map(({ id }) => id),
  ).toEqual(['new']);
});

it('P9: takes what changed of many at once, in their new order, and leaves the others as they were', async () => {
  const { dispatch, asked, known } = opened();
  const query = dispatch(api.endpoints.recordings.initiate('t'));
  (await asked())(['a', 'b', 'c'].map((id, i) => recording(id, 'ready', { position: i + 1, speaker: '' })));
  await query;
  const listed = () => api.endpoints.recordings.select('t')(known()).data!;
  const [, untouched] = listed();
  const changes = [
    { id: 'a', speaker: 'Ada', position: 3 },
    { id: 'c', trashedAt: 'now' },
    { id: 'elsewhere', speaker: 'Ada' },
  ];
  take({ type: 'recordings', titleId: 't', changes }, dispatch);
  expect(listed().map(({ id, speaker }) => [id, speaker])).toEqual([
    ['b', ''],
    ['a', 'Ada'],
  ]);
  expect(listed()[0]).toBe(untouched);
});

it.each([
  [{ speaker: 'Ada', version: 2 }, 0],
  [{ kind: 'music' as const, version: 2 }, 1],
  [{ trashedAt: null, version: 2 }, 1],
])('what is counted is not asked again for what nothing is counted by: %j', async (part, times) => {
  const { dispatch, asked } = opened();
  const query = dispatch(api.endpoints.standing.initiate('t'));
  (await asked())([]);
  await query;
  take({ type: 'recordings', titleId: 't', changes: [{ id: 'a', ...part }] }, dispatch);
  await new Promise((resolve) => setTimeout(resolve, 500));
  expect(letGo).toHaveLength(times);
});

type Asked = 'titles' | 'presets' | 'indexPlaces' | 'storage' | 'targets';

it.each<[ServerEvent, Asked]>([
  [{ type: 'title', titleId: 't' }, 'titles'],
  [{ type: 'preset', presetId: 'p' }, 'presets'],
  [{ type: 'index-place', letter: 'a' }, 'indexPlaces'],
  [{ type: 'storage' }, 'storage'],
  [{ type: 'target', targetId: 'x' }, 'targets'],
])('P6, P8: what is told of is asked again: %j', async (event, name) => {
  const { dispatch, asked } = opened();
  const query = dispatch(api.endpoints[name].initiate(undefined) as ReturnType<typeof api.endpoints.titles.initiate>);
  (await asked())([]);
  await query;
  take(event, dispatch);
  await asked();
});

it('asks once for what is counted, however many events come', async () => {
  const { dispatch, asked } = opened();
  const query = dispatch(api.endpoints.standing.initiate('t'));
  (await asked())([]);
  await query;
  for (let k = 0; k < 50; k++)
    take({ type: 'item', titleId: 't', item: { id: `${k}`, runId: 'r' } as RunItem }, dispatch);
  await new Promise((resolve) => setTimeout(resolve, 700));
  expect(letGo).toHaveLength(1);
});

it('holds on to what is told while an answer that is older is on its way', async () => {
  const { dispatch, asked, known } = opened();
  const query = dispatch(api.endpoints.recordings.initiate('t'));
  const answer = await asked();
  take({ type: 'recording', recording: recording('a', 'ready') }, dispatch);
  answer([recording('a', 'measuring')]); // read before the event, arrived behind it
  await query;
  await Promise.resolve();
  expect(api.endpoints.recordings.select('t')(known()).data).toMatchObject([{ id: 'a', status: 'ready' }]);
});

it('keeps a run and its items, and the list of runs, as they stand', async () => {
  const { dispatch, asked, known } = opened();
  const item = (status: string) => ({ id: 'i', runId: 'r', status }) as RunItem;
  const run = (status: string) => ({ id: 'r', status }) as RunSummary;
  const [one, all] = [dispatch(api.endpoints.run.initiate('r')), dispatch(api.endpoints.runs.initiate(undefined))];
  (await asked())({ ...run('queued'), items: [item('queued')] });
  (await asked())([]);
  await Promise.all([one, all]);
  take({ type: 'run', run: run('working') }, dispatch);
  take({ type: 'item', titleId: 't', item: item('within') }, dispatch);
  expect(api.endpoints.run.select('r')(known()).data).toMatchObject({
    status: 'working',
    items: [{ status: 'within' }],
  });
  expect(api.endpoints.runs.select(undefined)(known()).data).toMatchObject([{ id: 'r', status: 'working' }]);
});

it('follows progress until the thing is settled', () => {
  const { dispatch, known } = opened();
  const progress = () => (known() as { progress: Record<string, unknown> }).progress;
  take(
    { type: 'item-progress', titleId: 't', runId: 'r', itemId: 'i', share: 0.5, stage: 'chain', secondsLeft: 3 },
    dispatch,
  );
  expect(progress()).toEqual({ i: { share: 0.5, stage: 'chain', secondsLeft: 3 } });
  take({ type: 'item', titleId: 't', item: { id: 'i', runId: 'r', status: 'within' } as RunItem }, dispatch);
  expect(progress()).toEqual({});
});
