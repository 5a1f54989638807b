import { join } from 'node:path';
import { openApiDocument, ROUTES } from '@tonos/contract';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { encodingExists } from 'iconv-lite';
import type { Logger } from 'pino';
import type { SharedAddress } from './address.ts';
import { guardAlone, guardShared } from './guard.ts';
import { answerProblem, answerUnknown } from './problems.ts';
import { requestLog } from './request-log.ts';
import { Calls, type Gate, isForMachines, isOpen, onlyKnown, onlyMachines, serve, type Tell } from './serve.ts';

/** Everything from itself alone; Mantine writes style elements, and sound is played from this server. */
const CONTENT_POLICY = {
  'default-src': ["'self'"],
  'base-uri': ["'self'"],
  'form-action': ["'self'"],
  'object-src': ["'none'"],
  'script-src-attr': ["'none'"],
  'font-src': ["'self'"],
  // the engine's kernels are WebAssembly; nothing else may be compiled
  'script-src': ["'self'", "'wasm-unsafe-eval'"],
  'style-src': ["'self'", "'unsafe-inline'"],
  'img-src': ["'self'", 'data:'],
  'media-src': ["'self'", 'blob:'],
  'frame-ancestors': ["'none'"],
};

export interface AppOptions {
  version: string;
  /** The built page; without it only the API is served. */
  webFolder: string | undefined;
  /** Where several people reach it; null where one works alone. */
  shared: SharedAddress | null;
  gate: Gate;
  /** Finds the token of a machine that works along. */
  workerToken(secret: string): Promise<unknown>;
  tell: Tell;
  /** How far it has told of changes; whoever asks learns it, and can see later whether their answers still stand. */
  mark(): string;
  /** Adds every feature's routes. */
  features(calls: Calls): void;
  report(error: unknown): void;
  /** Takes a line for each call. */
  logger?: Logger;
}

export function createApp({ version, webFolder, shared, features, report, logger, ...doors }: AppOptions): Express {
  const { gate, tell, workerToken, mark } = doors;
  const app = express();
  app.disable('x-powered-by');
  // a hash over a list of thousands costs more than sending it again over the same machine
  app.disable('etag');
  app.use(
    helmet({
      // what the package allows by itself is more than this
      contentSecurityPolicy: { useDefaults: false, directives: CONTENT_POLICY },
      strictTransportSecurity: shared?.origin.protocol === 'https:' && { maxAge: 365 * 24 * 3600 },
      // pages that share memory with their sound threads must be isolated
      crossOriginEmbedderPolicy: true,
    }),
  );
  app.set('trust proxy', shared?.proxies ?? false);
  const guard = shared ? guardShared(shared) : guardAlone;
  // the program's files are many and the same for everybody: neither logged nor looked for among calls
  if (webFolder)
    app.use(
      '/assets',
      guard,
      express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y', index: false }),
    );
  if (logger) app.use(requestLog(logger));
  app.use(guard);
  const api = express.Router();
  api.use(onlyMachines(workerToken));
  api.use('/api', onlyKnown(gate));
  api.use('/api', (_, response, next) => {
    if (response.locals.caller) response.set('Tonos-Mark', mark());
    next();
  });
  // bodies are read by its tables; else it loads them while everybody waits for the first change
  encodingExists('utf-8');
  // figures of a night's programme are long
  const [short, long, longest] = ['16kb', '2mb', '64mb'].map((limit) => express.json({ limit }));
  // nobody who is not known makes the server read much
  api.use((request, response, next) =>
    (isForMachines(request) ? longest : isOpen(request) ? short : long)(request, response, next),
  );
  const calls = new Calls(api, gate, tell);
  serve(calls, ROUTES.health, () => ({ status: 'ready' as const, version }));
  const description = openApiDocument(version);
  serve(calls, ROUTES.openapi, () => description);
  features(calls);
  api.use('/api', answerUnknown);
  app.use(api);
  if (webFolder) servePage(app, webFolder);
  app.use(answerUnknown);
  app.use(answerProblem(report));
  return app;
}

/** The page routes by itself: every address that is no file of it is its start. */
function servePage(app: Express, folder: string): void {
  app.use(
    express.static(folder, { index: false, setHeaders: (response) => response.setHeader('Cache-Control', 'no-cache') }),
  );
  app.get(/^(?!\/api\/)[^.]*$/, (_, response) => {
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(join(folder, 'index.html'), { dotfiles: 'allow', cacheControl: false });
  });
}
