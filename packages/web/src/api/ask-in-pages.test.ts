import { configureStore } from '@reduxjs/toolkit';
import type { Recording } from '@tonos/contract';
import type { AppDispatch } from '../app/store.ts';
import { answerPage } from '../testing/answer-page.ts';
import { api } from './api.ts';
import { arrivingSlice } from './arriving-slice.ts';
import { FIRST_ROWS } from './first-rows.ts';
import { progressSlice } from './progress-slice.ts';
import { take } from './take-event.ts';

const COUNT = 3456;
const SECOND_PAGE = FIRST_ROWS + 1000;
const row = (i: number, more: Partial<Recording> = {}) =>
  ({ id: `r${i}`, titleId: 't', position: i, status: 'ready', trashedAt: null, speaker: '', ...more }) as Recording;
let rows: Recording[];
let asked: string[];
/** What happens before a page is answered. */
let meanwhile: (from: number) => void;
let putBack: () => void;

beforeEach(() => {
  rows = Array.from({ length: COUNT }, (_, i) => row(i + 1));
  asked = [];
  meanwhile = () => {};
  putBack = answerPage(async (request) => {
    const { searchParams } = new URL(request.url);
    const [from, count] = ['from', 'count'].map((name) => Number(searchParams.get(name)));
    asked.push(`${from}+${count}`);
    meanwhile(from);
    return Response.json(rows.slice(from, from + count));
  });
});
afterEach(() => putBack());

function opened() {
  const store = configureStore({
    reducer: {
      [api.reducerPath]: api.reducer,
      progress: progressSlice.reducer,
      arriving: arrivingSlice.reducer,
    },
    middleware: (defaults) => defaults({ immutableCheck: false, serializableCheck: false }).concat(api.middleware),
  });
  const dispatch = store.dispatch as unknown as AppDispatch;
  const known = () => api.endpoints.recordings.select('t')(store.getState() as never).data ?? [];
  const settled = async () => {
    do await new Promise((resolve) => setTimeout(resolve, 5));
    while (store.getState().arriving.t);
  };
  return { store, dispatch, known, settled };
}

it('the first rows are there at once, the rest comes behind them, in order and each once', async () => {
  const { store, dispatch, known, settled } = opened();
  await dispatch(api.endpoints.recordings.initiate('t'));
  expect(known()).toHaveLength(FIRST_ROWS);
  await settled();
  expect(asked).toEqual(['0+100', '100+1000', '1100+1000', '2100+1000', '3100+1000']);
  expect(known().map(({ id }) => id)).toEqual(rows.map(({ id }) => id));
  expect(store.getState().arriving).toEqual({});
});

it('a short list is asked for once', async () => {
  rows = rows.slice(0, FIRST_ROWS - 1);
  const { dispatch, known, settled } = opened();
  await dispatch(api.endpoints.recordings.initiate('t'));
  await settled();
  expect(asked).toEqual(['0+100']);
  expect(known()).toHaveLength(FIRST_ROWS - 1);
});

it('what events tell while the rest is on its way stays, whichever of them is first', async () => {
  const { dispatch, known, settled } = opened();
  meanwhile = (from) => {
    if (from !== SECOND_PAGE) return;
    // of a row that is here, and of one that is not
    for (const i of [5, 3000]) take({ type: 'recording', recording: row(i, { speaker: 'Ada' }) }, dispatch);
  };
  await dispatch(api.endpoints.recordings.initiate('t'));
  await settled();
  expect(known().map(({ position }) => position)).toEqual(rows.map(({ position }) => position));
  expect([known()[4].speaker, known()[2999].speaker, known()[3000].speaker]).toEqual(['Ada', 'Ada', '']);
});

it('asked again it stays whole until all of it has come anew, and a page that fails leaves what is there', async () => {
  const { dispatch, known, settled } = opened();
  const query = dispatch(api.endpoints.recordings.initiate('t'));
  await query;
  await settled();
  rows = rows.slice(0, 2500);
  const lengths = new Set<number>();
  meanwhile = () => lengths.add(known().length);
  await query.refetch();
  expect([...lengths]).toEqual([COUNT]);
  expect(known()).toHaveLength(2500);
  meanwhile = (from) => {
    if (from > 1000) throw new TypeError('gone');
  };
  const { error } = await query.refetch();
  expect(error).toBeDefined();
  expect(known()).toHaveLength(2500);
});

it('rows that go while the rest is on its way pass over none of the others; until all are here the list says so', async () => {
  const { store, dispatch, known, settled } = opened();
  const gone = Array.from({ length: 100 }, (_, i) => `r${i + 1}`);
  meanwhile = (from) => {
    if (from !== SECOND_PAGE || rows.length < COUNT) return;
    rows = rows.filter(({ id }) => !gone.includes(id));
    const trashed = gone.map((id) => ({ id, trashedAt: 'now' }));
    take({ type: 'recordings', titleId: 't', changes: trashed } as never, dispatch);
  };
  await dispatch(api.endpoints.recordings.initiate('t'));
  await settled();
  expect(known().map(({ id }) => id)).toEqual(rows.map(({ id }) => id));
  expect(store.getState().arriving).toEqual({});
});

it('where a page of the rest fails, the list stays unfinished, and is asked for again', async () => {
  const { store, dispatch, known, settled } = opened();
  let isDown = true;
  meanwhile = (from) => {
    if (from === SECOND_PAGE && isDown) {
      isDown = false;
      throw new TypeError('gone');
    }
  };
  await dispatch(api.endpoints.recordings.initiate('t'));
  while (isDown) await new Promise((resolve) => setTimeout(resolve, 10));
  expect([known().length, store.getState().arriving]).toEqual([SECOND_PAGE, { t: true }]);
  await settled();
  expect(known()).toHaveLength(COUNT);
});
