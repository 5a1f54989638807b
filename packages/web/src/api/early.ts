import { noteFirstMark } from './first-mark.ts';

/** An answer as it was read. */
interface Early {
  value: unknown;
}

const asked = new Map<string, Promise<Early | undefined>>();

/** Asks by paths with their queries: answers come and are read while the program that shows them still comes in. */
export function askEarly(paths: readonly string[]): void {
  for (const path of paths) asked.set(path, answerOf(path));
}

/** What can't be told now is asked for again, and told then: who has to sign in, that nobody answers, or not to the end. */
async function answerOf(path: string): Promise<Early | undefined> {
  try {
    const answer = await fetch(path);
    if (!answer.ok) return undefined;
    noteFirstMark(answer);
    return { value: await answer.json() };
  } catch {
    return undefined;
  }
}

/** What was asked early by a path, and not taken yet; undefined where it was not, or was refused. */
export const earlyAnswer = async (path: string): Promise<Early | undefined> => asked.get(path);

/** Nobody else gets it then. */
export function takeEarly(path: string): Promise<Early | undefined> | undefined {
  const early = asked.get(path);
  asked.delete(path);
  return early;
}
