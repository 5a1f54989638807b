import { noteFirstMark } from './first-mark.ts';

const asked = new Map<string, Promise<Response | undefined>>();

/** Asks by paths with their queries: answers are on their way while the program that shows them still comes in. */
export function askEarly(paths: readonly string[]): void {
  for (const path of paths) asked.set(path, answerOf(path));
}

async function answerOf(path: string): Promise<Response | undefined> {
  // what can't be told now is asked for again, and told then: who has to sign in, that nobody answers
  const answer = await fetch(path).catch(() => undefined);
  if (!answer?.ok) return undefined;
  noteFirstMark(answer);
  return answer;
}

/** What was asked early by a path, and not taken yet; undefined where it was not, or was refused. */
export const earlyAnswer = async (path: string): Promise<Response | undefined> => asked.get(path);

/** Nobody else gets it then. */
export function takeEarly(path: string): Promise<Response | undefined> | undefined {
  const early = asked.get(path);
  asked.delete(path);
  return early;
}

/** Like `fetch`; what was asked early is handed over, once. */
export const fetchUnlessAsked: typeof fetch = async (input, init) => (await taken(input)) ?? fetch(input, init);

function taken(input: RequestInfo | URL): Promise<Response | undefined> | undefined {
  if (!(input instanceof Request) || input.method !== 'GET') return undefined;
  const { pathname, search } = new URL(input.url);
  return takeEarly(pathname + search);
}
