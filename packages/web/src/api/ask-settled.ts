import type { Route } from '@tonos/contract';
import { askLines } from './ask-lines.ts';
import type { Given } from './request.ts';

/** What costs the server work is asked for when nothing has changed for so long. */
const SETTLED_MS = 1200;

interface Hearing<Line> {
  /** It is being asked now. */
  begun?(): void;
  tell(line: Line): void;
  trouble(message: string): void;
  ended(): void;
}

/** Asks for lines once nothing has changed any more. @returns what gives up, for an effect */
export function askSettled<Line>(
  route: Route,
  given: Given<unknown>,
  { begun, tell, trouble, ended }: Hearing<Line>,
): () => void {
  const controller = new AbortController();
  const { signal } = controller;
  const timer = setTimeout(() => {
    begun?.();
    askLines<Line>(route, given, signal, tell)
      .catch((error: Error) => !signal.aborted && trouble(error.message))
      .finally(ended);
  }, SETTLED_MS);
  return () => {
    clearTimeout(timer);
    controller.abort();
  };
}
