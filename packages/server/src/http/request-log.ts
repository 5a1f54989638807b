import type { RequestHandler } from 'express';
import type { LevelWithSilent, Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { Caller } from './caller.ts';

/**
 * A line for each call: who, what, how it ended, how long it took. Queries, headers and bodies stay out of it: links, cookies and tokens
 * are secrets.
 */
export const requestLog = (logger: Logger): RequestHandler =>
  pinoHttp({
    logger,
    quietReqLogger: true,
    customLogLevel: (_, { statusCode }): LevelWithSilent => (statusCode >= 500 ? 'error' : 'info'),
    customSuccessMessage: () => 'answered',
    customErrorMessage: () => 'failed',
    customProps: (_, response) => ({
      personId: (response as { locals?: { caller?: Caller | null } }).locals?.caller?.personId ?? null,
    }),
    serializers: {
      req: ({ method, url }: { method: string; url: string }) => ({ method, path: url.split('?')[0] }),
      res: ({ statusCode }: { statusCode: number }) => ({ status: statusCode }),
      err: ({ type }: { type: string }) => ({ type }),
    },
  });
