import { api } from '../api/api.ts';
import type { Question } from './first-questions.ts';
import type { AppDispatch } from './store.ts';

/** So long at most nothing is drawn while answers are missing. */
const MOST_MS = 400;

/** Takes what was asked early, so that a page is drawn once and in whole. What fails is asked again by who needs it, and told there. */
export async function takeFirstAnswers(questions: readonly Question[], dispatch: AppDispatch): Promise<void> {
  const answers = questions.map(({ endpoint, arg }) => {
    const { initiate } = api.endpoints[endpoint] as typeof api.endpoints.title;
    return dispatch(initiate(arg as string, { subscribe: false }));
  });
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise((resolve) => {
    timer = setTimeout(resolve, MOST_MS);
  });
  await Promise.race([Promise.all(answers), late]);
  clearTimeout(timer);
}
