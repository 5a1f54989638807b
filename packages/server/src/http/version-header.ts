import type { Request, Response } from 'express';
import { HttpProblem } from './problems.ts';

/** Versions of what several people change, as ETag and If-Match (RFC 9110, 8.8.3 and 13.1.1). */

export function sayVersion(response: Response, version: number): void {
  response.setHeader('ETag', `"${version}"`);
  // the tag stands for what is written, and the answer tells more than that: it is not to be taken from a cache
  response.setHeader('Cache-Control', 'no-store');
}

/** The version that a caller saw; undefined where they say none, and whatever stands is overwritten. */
export function seenVersion(request: Request): number | undefined {
  const said = request.headers['if-match'];
  if (said === undefined || said === '*') return undefined;
  return Number(/^"(\d+)"$/.exec(said)?.[1] ?? -1);
}

/** @throws HttpProblem 412 where another one wrote meanwhile. @param standing what stands now */
export function checkVersion(seen: number | undefined, version: number, message: string, standing: object): void {
  if (seen === undefined || seen === version) return;
  throw new HttpProblem(412, 'changed-meanwhile', message, { version, ...standing });
}

/** What is answered of something with versions says which it is. */
export function tagged<Versioned extends { version: number }>(response: Response, answer: Versioned): Versioned {
  sayVersion(response, answer.version);
  return answer;
}

/** The number of a revision, from the path. @throws HttpProblem 404 where it is none */
export function revisionNumber(text: string): number {
  const number = Number(text);
  if (!Number.isSafeInteger(number)) throw new HttpProblem(404, 'not-found', `"${text}" is no revision number.`);
  return number;
}
