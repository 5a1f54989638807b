import { api } from '../api/api.ts';
import { askEarly } from '../api/early.ts';
import { answerPage } from '../testing/answer-page.ts';
import type { Question } from './first-questions.ts';
import { PAGES, page, pageAt } from './pages.ts';
import { makeStore } from './store.ts';
import { takeFirstAnswers } from './take-first-answers.ts';

let asked: string[];
let putBack: () => void;
let status: number;
beforeEach(() => {
  asked = [];
  status = 200;
  putBack = answerPage(async ({ url }) => {
    const { pathname, search } = new URL(url);
    asked.push(pathname + search);
    return Response.json(pathname.startsWith('/api/runs/') ? { items: [] } : [], { status });
  });
});
afterEach(() => putBack());

const begun = async (path: string) => {
  const { questions } = pageAt(path.replaceAll(/:\w+/g, 'x-1'))!;
  const store = makeStore();
  const paths = questions.map((one) => one.path);
  askEarly(paths);
  await takeFirstAnswers(questions, store.dispatch);
  const states = Object.values(store.getState().api.queries).map((one) => one?.status);
  return { paths, states, store };
};

it.each(Object.keys(PAGES))(
  '%s takes what was asked before the program was there, as the program asks it',
  async (path) => {
    const { paths, states, store } = await begun(path);
    expect(asked).toEqual(paths);
    expect(states).toEqual(paths.map(() => 'fulfilled'));
    store.dispatch(api.util.resetApiState());
  },
);

const askAll = (questions: readonly Question[], { dispatch }: ReturnType<typeof makeStore>) =>
  Promise.all(
    questions.map(({ endpoint, arg }) =>
      dispatch((api.endpoints[endpoint] as typeof api.endpoints.title).initiate(arg as string)),
    ),
  );

it('what was taken is in the store as an answer to the same question; the next page asks anew', async () => {
  const { paths, store } = await begun('/titles/:id');
  const { questions } = pageAt('/titles/x-1')!;
  await takeFirstAnswers(questions, store.dispatch);
  await askAll(questions, store);
  // a list in pages is read by who takes it
  expect(asked.filter((path) => !path.includes('/recordings'))).toEqual(
    paths.filter((path) => !path.includes('/recordings')),
  );
  store.dispatch(api.util.resetApiState());
  await askAll(questions, store);
  expect(asked.slice(-paths.length).toSorted()).toEqual(paths.toSorted());
  store.dispatch(api.util.resetApiState());
});

it('what was refused is asked again by who needs it, and told there', async () => {
  status = 401;
  const { paths, states, store } = await begun('/targets');
  expect([asked, states]).toEqual([paths, []]);
  const { questions } = pageAt('/targets')!;
  const answers = await askAll(questions, store);
  expect(asked).toHaveLength(2 * paths.length);
  expect(answers.map(({ isError }) => isError)).toEqual(paths.map(() => true));
  store.dispatch(api.util.resetApiState());
});

it('what breaks off in the middle is asked again by who needs it', async () => {
  putBack();
  putBack = answerPage(async ({ url }) => {
    const { pathname } = new URL(url);
    asked.push(pathname);
    return new Response(asked.filter((path) => path === pathname).length === 1 ? '[{"id": "a' : '[]');
  });
  const { paths, states, store } = await begun('/targets');
  expect(states).toEqual([]);
  const answers = await askAll(pageAt('/targets')!.questions, store);
  expect(answers.map(({ data }) => data)).toEqual(paths.map(() => []));
  store.dispatch(api.util.resetApiState());
});

it('what comes late is waited for by who needs it, and not asked twice', async () => {
  let goOn = () => {};
  const slow = new Promise<void>((resolve) => {
    goOn = resolve;
  });
  putBack();
  putBack = answerPage(async ({ url }) => {
    asked.push(new URL(url).pathname);
    if (url.endsWith('/targets')) await slow;
    return Response.json([]);
  });
  const { questions } = pageAt('/targets')!;
  const store = makeStore();
  askEarly(questions.map(({ path }) => path));
  await takeFirstAnswers(questions, store.dispatch);
  const needed = store.dispatch(api.endpoints.targets.initiate());
  goOn();
  expect((await needed).data).toEqual([]);
  expect(asked.filter((path) => path.endsWith('/targets'))).toHaveLength(1);
  store.dispatch(api.util.resetApiState());
});

it('an address that shows nothing asks nothing', () => {
  expect(pageAt('/nowhere')).toBeUndefined();
  expect(pageAt('/titles/a/b')).toBeUndefined();
});

it('a page whose program does not come is told of in our words, and those of the browser are kept', async () => {
  const cause = new TypeError('Failed to fetch assets/x.js');
  const message = expect.stringMatching(/^A part of the program did not come/);
  await expect(page(() => Promise.reject(cause), 'XPage')()).rejects.toMatchObject({ message, cause });
});
