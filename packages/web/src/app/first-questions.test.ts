import { api } from '../api/api.ts';
import { askEarly } from '../api/early.ts';
import { answerPage } from '../testing/answer-page.ts';
import { PAGES, pageAt } from './pages.ts';
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
  store.dispatch(api.util.resetApiState());
  return { paths, states, store };
};

it.each(Object.keys(PAGES))(
  '%s takes what was asked before the program was there, as the program asks it',
  async (path) => {
    const { paths, states } = await begun(path);
    expect(asked).toEqual(paths);
    expect(states).toEqual(paths.map(() => 'fulfilled'));
  },
);

it('what was refused is asked again, and what was taken is not there for the next one', async () => {
  status = 401;
  const { paths, states, store } = await begun('/targets');
  expect(asked.toSorted()).toEqual([...paths, ...paths].toSorted());
  expect(states).toEqual(paths.map(() => 'rejected'));
  status = 200;
  asked = [];
  await takeFirstAnswers(pageAt('/targets')!.questions, store.dispatch);
  expect(asked).toEqual(paths);
  store.dispatch(api.util.resetApiState());
});

it('an address that shows nothing asks nothing', () => {
  expect(pageAt('/nowhere')).toBeUndefined();
  expect(pageAt('/titles/a/b')).toBeUndefined();
});
