import { api } from '../api/api.ts';
import { asWhole } from '../api/as-whole.ts';
import { earlyAnswer, takeEarly } from '../api/early.ts';
import type { Question } from './first-questions.ts';
import type { AppDispatch } from './store.ts';

/** So long at most nothing is drawn while answers are missing. */
const MOST_MS = 400;

/** Long lists: they see to their other rows as well. */
const IN_PAGES: ReadonlySet<string> = new Set(['recordings', 'run'] satisfies Question['endpoint'][]);

/**
 * Takes what was asked early, so that a page is drawn once and in whole; what came goes into the store in one act. What did not come is
 * asked again by who needs it, and told there.
 */
export async function takeFirstAnswers(questions: readonly Question[], dispatch: AppDispatch): Promise<void> {
  const came: Parameters<typeof api.util.upsertQueryEntries>[0][number][] = [];
  let isOver = false;
  const answers = questions.map(async ({ path, endpoint, arg }) => {
    if (IN_PAGES.has(endpoint))
      return dispatch(
        (api.endpoints[endpoint] as typeof api.endpoints.title).initiate(arg as string, { subscribe: false }),
      );
    const answer = await earlyAnswer(path);
    // who asks for it now has it handed over
    if (!answer || isOver) return;
    takeEarly(path);
    came.push({ endpointName: endpoint, arg, value: asWhole(answer.value) } as (typeof came)[number]);
  });
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise((resolve) => {
    timer = setTimeout(resolve, MOST_MS);
  });
  await Promise.race([Promise.allSettled(answers), late]);
  clearTimeout(timer);
  isOver = true;
  dispatch(api.util.upsertQueryEntries(came));
}
