let mark: string | undefined;

const markOf = (answer: Response): string | undefined => answer.headers.get('Tonos-Mark') ?? undefined;

/** Keeps how far the server had told of changes when the page asked its first questions; where it told of one between them, none holds. */
export function noteFirstMark(answer: Response): void {
  mark = mark === undefined || mark === markOf(answer) ? markOf(answer) : 'several';
}

/** Where the stream of events begins at the same mark, all that the page has asked still stands. */
export const firstMark = (): string | undefined => mark;

/** Whether nothing has been told since; where the server does not answer, nothing has come from it either. @param path of any question */
export async function isStillAtFirstMark(path: string): Promise<boolean> {
  const answer = await fetch(path, { method: 'HEAD' }).catch(() => undefined);
  return !answer?.ok || markOf(answer) === mark;
}
