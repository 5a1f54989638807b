// `npm run demo:machines`: a server that computes nothing itself, two workers, and Redis where that is installed, all on this machine.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { build, endWithParent, install, project } from './prepare.mjs';

endWithParent();
install();
build();

const PORT = Number(process.env.TONOS_PORT ?? 4310);
const QUEUE_PORT = 4379;
const REDIS = ['/usr/bin/redis-server', '/usr/local/bin/redis-server', '/opt/homebrew/bin/redis-server'].find(
  existsSync,
);
const folder = join(project, 'data', 'machines');
const data = process.env.TONOS_DATA ?? join(folder, 'server');
mkdirSync(data, { recursive: true });
const at = (path) => join(project, path);
const children = [];

function begin(program, args, env = {}, errors = 'inherit') {
  const child = spawn(program, args, { stdio: ['ignore', 'pipe', errors], env: { ...process.env, ...env } });
  children.push(child);
  return child;
}

const until = (child, words) =>
  new Promise((resolve, reject) => {
    child.once('exit', () => reject(new Error(`It ended before it said "${words}".`)));
    child.stdout.on('data', (text) => {
      process.stdout.write(text);
      if (String(text).includes(words)) resolve();
    });
  });

/** What the command says on its standard output. */
const command = (args, errors) =>
  new Promise((resolve, reject) => {
    const child = begin(process.execPath, [at('packages/cli/bin/tonos.mjs'), ...args], { TONOS_DATA: data }, errors);
    let said = '';
    child.stdout.on('data', (text) => {
      said += text;
    });
    child.once('exit', (code) => (code === 0 ? resolve(said.trim()) : reject(new Error(`tonos ${args[0]} failed.`))));
  });

let ending = false;
function end(code) {
  if (ending) return;
  ending = true;
  // the workers first: they give back what they have
  for (const child of children.reverse()) child.kill('SIGTERM');
  setTimeout(() => process.exit(code), 6000).unref();
  Promise.all(children.map((child) => child.exitCode ?? new Promise((resolve) => child.once('exit', resolve)))).then(
    () => process.exit(code),
  );
}
process.on('SIGINT', () => end(0));
process.on('SIGTERM', () => end(0));

try {
  const queue = REDIS && `redis://127.0.0.1:${QUEUE_PORT}`;
  if (REDIS) {
    const redis = begin(REDIS, [
      '--port',
      String(QUEUE_PORT),
      '--bind',
      '127.0.0.1',
      '--save',
      '',
      '--appendonly',
      'no',
    ]);
    redis.stdout.resume();
  } else console.log('redis-server is not installed: the workers ask the server every second instead.');
  const env = {
    TONOS_DATA: data,
    TONOS_PORT: String(PORT),
    TONOS_LOCAL_THREADS: '0',
    ...(queue && { TONOS_QUEUE: queue }),
  };
  await until(begin(process.execPath, [at('packages/server/dist/main.js')], env), 'is ready');
  // the one of the start before, which nobody has any more
  await command(['worker-token', '--revoke', 'demo machines'], 'ignore').catch(() => {});
  const token = await command(['worker-token', '--name', 'demo machines']);
  for (const name of ['North room', 'South room']) {
    const cache = join(folder, name);

    const worker = begin(process.execPath, [at('packages/server/dist/worker.js')], {
      TONOS_SERVER: `http://127.0.0.1:${PORT}`,
      TONOS_WORKER_TOKEN: token,
      TONOS_WORKER_NAME: name,
      TONOS_WORKER_THREADS: '1',
      TONOS_WORKER_CACHE: cache,
      TONOS_WORKER_CACHE_GB: '2',
      ...(queue && { TONOS_QUEUE: queue }),
    });
    await until(worker, 'Takes work');
  }
  console.log(`Two machines work along: http://127.0.0.1:${PORT}/machines`);
} catch (error) {
  console.error(error.message);
  end(1);
}
