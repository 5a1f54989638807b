import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, readFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Machine, Machines } from '@tonos/contract';
import type { TestServer } from './test-server.ts';

const at = (path: string) => new URL(path, import.meta.url).pathname;
const PROGRAM = at('../../dist/worker.js');

/** The version of this tree: a worker works along only with a server of its own. */
export const { version: VERSION } = JSON.parse(readFileSync(at('../../../../package.json'), 'utf8')) as {
  version: string;
};

/** A machine that works along: a real process, with a cache of its own. */
export class TestWorker {
  private process: ChildProcess | undefined;
  /** What it said. */
  said = '';

  private constructor(
    readonly name: string,
    readonly cacheFolder: string,
    private readonly env: Record<string, string>,
  ) {}

  static async start(
    server: TestServer,
    { name, token, env = {} }: { name: string; token: string; env?: Record<string, string> },
  ): Promise<TestWorker> {
    const cache = await mkdtemp(join(tmpdir(), 'tonos-worker-test-'));
    const worker = new TestWorker(name, cache, {
      TONOS_SERVER: server.origin,
      TONOS_WORKER_TOKEN: token,
      TONOS_WORKER_THREADS: '1',
      TONOS_WORKER_NAME: name,
      TONOS_WORKER_CACHE: cache,
      ...env,
    });
    worker.open();
    return worker;
  }

  open(): void {
    const worker = spawn(process.execPath, [PROGRAM], {
      env: { PATH: process.env.PATH, ...this.env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    for (const stream of [worker.stdout, worker.stderr])
      stream.on('data', (text) => {
        this.said += text;
      });
    this.process = worker;
  }

  signal(name: NodeJS.Signals): void {
    this.process?.kill(name);
  }

  /** @returns the exit code; null where it was killed */
  async ended(): Promise<number | null> {
    const { process } = this;
    if (!process) return null;
    if (process.exitCode === null && process.signalCode === null) await once(process, 'exit');
    return process.exitCode;
  }

  async kill(): Promise<void> {
    this.signal('SIGKILL');
    await this.ended();
  }

  async remove(): Promise<void> {
    this.signal('SIGCONT');
    await this.kill();
    if (existsSync(this.cacheFolder)) await rm(this.cacheFolder, { recursive: true });
  }
}

/** A machine by its name, once it is as wanted. */
export async function machineOf(
  server: TestServer,
  name: string,
  done: (machine: Machine) => boolean = () => true,
): Promise<Machine> {
  const find = ({ machines }: Machines) => machines.find((one) => one.name === name);
  const found = await server.until<Machines>('/machines', (body) => {
    const machine = find(body);
    return machine !== undefined && done(machine);
  });
  return find(found)!;
}
