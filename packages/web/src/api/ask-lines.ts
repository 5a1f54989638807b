import type { Route } from '@tonos/contract';
import { problemIn, reasonOf } from './reason-of.ts';
import { type Given, request } from './request.ts';

/** Asks for an answer that comes in lines of JSON. @param tell hears each of them; @throws Error in words for whoever asked */
export async function askLines<Line>(
  route: Route,
  given: Given<unknown>,
  signal: AbortSignal,
  tell: (line: Line) => void,
): Promise<void> {
  try {
    await readLines(route, given, signal, tell);
  } catch (error) {
    // what a browser says of a server that is gone helps nobody
    throw error instanceof TypeError ? new Error(reasonOf({})) : error;
  }
}

async function readLines<Line>(
  route: Route,
  given: Given<unknown>,
  signal: AbortSignal,
  tell: (line: Line) => void,
): Promise<void> {
  const { url, method, body } = request(route, given);
  const response = await fetch(url, {
    method,
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    signal,
  });
  if (!response.ok || !response.body) throw new Error(await problemIn(response));
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  for (let held = ''; ; ) {
    const { value, done } = await reader.read();
    const lines = (held + (value ?? '')).split('\n');
    held = lines.pop()!;
    for (const line of lines) if (line) tell(JSON.parse(line) as Line);
    if (done) return;
  }
}
