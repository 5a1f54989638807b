import { readFileSync } from 'node:fs';
import { availableParallelism, hostname } from 'node:os';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { TonosError } from '@tonos/core';
import { queueUrl } from './queue-url.ts';
import { runWorker } from './worker/run-worker.ts';

/** A machine that works along with a server: its environment and signals. */
const project = fileURLToPath(new URL('../../..', import.meta.url));
const { version } = JSON.parse(readFileSync(join(project, 'package.json'), 'utf8')) as { version: string };
const GIGABYTE = 1024 ** 3;
const USUAL_CACHE_GB = 20;

function wanted(name: string, what: string): string {
  const said = process.env[name];
  if (said) return said;
  throw new TonosError('not-set', `Set ${name} to ${what}.`);
}

function number(name: string, usual: number, least: number): number {
  const said = process.env[name];
  if (!said) return usual;
  const value = Number(said);
  if (Number.isFinite(value) && value >= least) return value;
  throw new TonosError('bad-number', `${name} is ${said}: give a number from ${least}.`);
}

async function main(): Promise<void> {
  const server = wanted('TONOS_SERVER', 'the address of the server, such as https://tonos.example.org');
  if (!URL.canParse(server) || !/^https?:$/.test(new URL(server).protocol))
    throw new TonosError(
      'bad-address',
      `TONOS_SERVER is ${server}: give an address that begins with http:// or https://.`,
    );
  const threads = Math.floor(number('TONOS_WORKER_THREADS', availableParallelism(), 1));
  const name = process.env.TONOS_WORKER_NAME || hostname();
  const worker = await runWorker({
    server: new URL(server).origin,
    token: wanted('TONOS_WORKER_TOKEN', 'a worker token, which an owner makes on the page Machines'),
    queueUrl: queueUrl(process.env.TONOS_QUEUE),
    name,
    version,
    threads,
    cacheFolder: resolve(process.env.TONOS_WORKER_CACHE ?? join(project, 'worker-cache')),
    cacheLimitBytes: number('TONOS_WORKER_CACHE_GB', USUAL_CACHE_GB, 0) * GIGABYTE,
    say: (line) => console.log(line),
  });
  console.log(`Tonos ${version} works along with ${server} as ${name}, on ${threads} threads.`);

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    await worker.stop();
    process.exit(0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  await worker.ended;
}

main().catch((error) => {
  console.error(error instanceof TonosError ? error.message : error);
  process.exit(1);
});
