import { existsSync, readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { delimiter, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { TonosError } from '@tonos/core';
import pino from 'pino';
import { sharedAddress } from './http/address.ts';
import { providerOptions } from './people/provider.ts';
import { queueUrl } from './queue-url.ts';
import { startServer } from './server.ts';
import { diskTrouble } from './storage/disk-trouble.ts';

/** The real surroundings of the server: environment, project folders, signals. */
const project = fileURLToPath(new URL('../../..', import.meta.url));
const log = pino({ level: process.env.TONOS_LOG ?? 'warn' });
const { version } = JSON.parse(readFileSync(join(project, 'package.json'), 'utf8')) as { version: string };
const folderIfThere = (path: string) => (existsSync(path) ? path : undefined);

const GIGABYTE = 1024 ** 3;

function localThreads(said: string): number {
  if (/^\d{1,3}$/.test(said)) return Number(said);
  throw new TonosError('bad-threads', `TONOS_LOCAL_THREADS is ${said}: give a number of threads, 0 for none.`);
}

async function main(): Promise<void> {
  const host = process.env.TONOS_HOST ?? '127.0.0.1';
  const shared = sharedAddress(process.env, (path) => readFileSync(path, 'utf8'));
  const quota = Number(process.env.TONOS_QUOTA_GB);
  const server = await startServer({
    dataFolder: resolve(process.env.TONOS_DATA ?? join(project, 'data')),
    host,
    shared,
    provider: shared && providerOptions(process.env),
    passwords: process.env.TONOS_PASSWORDS !== '0',
    ...(quota > 0 && { quotaBytes: quota * GIGABYTE }),
    port: Number(process.env.TONOS_PORT ?? 4310),
    version,
    threads: Math.min(16, Math.max(2, availableParallelism())),
    ...(process.env.TONOS_LOCAL_THREADS && { localThreads: localThreads(process.env.TONOS_LOCAL_THREADS) }),
    queueUrl: queueUrl(process.env.TONOS_QUEUE),
    webFolder: folderIfThere(join(project, 'packages/web/dist')),
    demoFolder: process.env.TONOS_DEMO === '0' ? undefined : folderIfThere(join(project, 'demo')),
    exchangeFolder: process.env.TONOS_EXCHANGE ? resolve(process.env.TONOS_EXCHANGE) : undefined,
    roots: (process.env.TONOS_ROOTS ?? '')
      .split(delimiter)
      .filter(Boolean)
      .map((root) => resolve(root)),
    uploadLimits: { fileBytes: 16 * GIGABYTE, files: 1000 },
    report: (error) => log.error(error),
    logger: log,
  });
  const at = shared?.origin.origin ?? `http://${host === '::1' ? '[::1]' : host}:${server.port}`;
  if (server.setUpUrl) console.log(`Set up: ${server.setUpUrl}`);
  console.log(`Tonos ${version} is ready: ${at}`);

  let closing = false;
  const stop = async () => {
    if (closing) return;
    closing = true;
    await server.close();
    process.exit(0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
}

main().catch((error: NodeJS.ErrnoException) => {
  const taken = error.code === 'EADDRINUSE';
  const known = error instanceof TonosError ? error.message : (diskTrouble(error)?.message ?? error);
  console.error(
    taken
      ? `Port ${process.env.TONOS_PORT ?? 4310} is taken by another program. End it, or set TONOS_PORT to a free one.`
      : known,
  );
  process.exit(1);
});
