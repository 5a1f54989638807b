import { STATUS_CODES } from 'node:http';
import type { Problem } from '@tonos/contract';
import { InvalidChainError, InvalidOrderError, InvalidTargetError, TonosError } from '@tonos/core';
import type { ErrorRequestHandler, RequestHandler } from 'express';
import * as z from 'zod';
import { diskTrouble } from '../storage/disk-trouble.ts';

/** An answer that is a problem: what was found, what is wanted, what to do next. */
export class HttpProblem extends TonosError {
  constructor(
    readonly status: number,
    code: string,
    message: string,
    details: Readonly<Record<string, unknown>> = {},
  ) {
    super(code, message, details);
  }
}

export const notFound = (what: string, id: string) =>
  new HttpProblem(
    404,
    'not-found',
    `There is no ${what} with the id "${id}". It may have been removed; load the page again.`,
    { id },
  );

/** What is worked with is there, and not in the trash. */
export function checkThere<Row extends { trashedAt: string | null; name?: string }>(
  what: string,
  id: string,
  row: Row | null,
): Row {
  if (!row) throw notFound(what, id);
  const called = row.name ? `“${row.name}”` : `The ${what}`;
  if (row.trashedAt !== null)
    throw new HttpProblem(404, 'in-trash', `${called} lies in the trash. Restore it first.`, { id });
  return row;
}

interface HttpError {
  status?: number;
  type?: string;
  message: string;
}

/** The one place where an error becomes an HTTP answer. */
export function problemOf(error: unknown): Problem {
  const make = (
    status: number,
    code: string,
    detail: string,
    more: Readonly<Record<string, unknown>> = {},
  ): Problem => ({
    ...more,
    type: 'about:blank',
    title: STATUS_CODES[status] ?? 'Error',
    status,
    code,
    detail,
  });
  if (error instanceof HttpProblem) return make(error.status, error.code, error.message, error.details);
  if (error instanceof InvalidChainError || error instanceof InvalidTargetError) {
    const [first] = (error.details.faults ?? []) as Record<string, unknown>[];
    const { step, kind, setting, minimum, maximum } = first ?? {};
    return make(422, error.code, error.message, { ...error.details, step, kind, setting, minimum, maximum });
  }
  if (error instanceof InvalidOrderError) return make(422, error.code, error.message, error.details);
  if (error instanceof z.ZodError)
    return make(422, 'invalid', describeIssues(error), {
      issues: nearest(error.issues).map(({ path, message }) => ({ path: path.join('.'), message })),
    });
  const { status, type, message } = error as HttpError;
  if (type === 'entity.parse.failed') return make(400, 'malformed-json', `The body is no JSON: ${message}.`);
  if (type === 'entity.too.large') return make(413, 'too-large', 'The body is larger than this call takes. Send less.');
  if (typeof status === 'number' && status >= 400 && status < 500) return make(status, 'refused', message);
  const disk = diskTrouble(error);
  if (disk) return make(507, disk.code, disk.message);
  return make(500, 'internal', 'The server met an error that it did not expect. Try again; its log says more.');
}

/** Where something may be written in several ways, what is wrong with the way that it comes nearest to. */
const nearest = (issues: readonly z.core.$ZodIssue[]): z.core.$ZodIssue[] =>
  issues.flatMap((issue) => {
    if (issue.code !== 'invalid_union' || issue.message !== 'Invalid input' || !issue.errors.length) return [issue];
    const [least] = [...issue.errors].sort((a, b) => a.length - b.length);
    return nearest(least.map((inner) => ({ ...inner, path: [...issue.path, ...inner.path] })));
  });

const describeIssues = (error: z.ZodError): string =>
  nearest(error.issues)
    .map(({ path, message }) => (path.length ? `${path.join('.')}: ${message}` : message))
    .join('; ');

export const unknownCall = (method: string, path: string): HttpProblem =>
  new HttpProblem(
    404,
    'unknown-call',
    `There is no ${method.toUpperCase()} ${path}. /api/openapi.json lists the calls.`,
  );

export const answerUnknown: RequestHandler = ({ method, path }) => {
  throw unknownCall(method, path);
};

export const answerProblem =
  (report: (error: unknown) => void): ErrorRequestHandler =>
  (error, request, response, next) => {
    const problem = problemOf(error);
    if (problem.status >= 500) report(error);
    if (response.headersSent) return next(error);
    // an upload that is refused is not read to its end
    if (!request.complete) response.set('Connection', 'close');
    if (typeof problem.retryAfterSeconds === 'number') response.set('Retry-After', String(problem.retryAfterSeconds));
    if (problem.status === 401) response.set('WWW-Authenticate', 'Bearer');
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  };
