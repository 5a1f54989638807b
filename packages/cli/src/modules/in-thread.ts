import { Worker } from 'node:worker_threads';
import { TonosError, WATCH_WORDS, WatchKeeper } from '@tonos/core';
import type { FoundModule } from './find-modules.ts';
import { TASKS, type TaskInput, type TaskName, type TaskResult } from './tasks.ts';
import type { FromThread, ThreadData, ToldError, ToThread } from './thread.ts';

const LOOK_MS = 200;
/** A task that is told to stop has this long. */
const GRACE_MS = 1500;

/** Beside this file, also where the command is bundled. */
const PROGRAM = new URL(
  /\/bundle\/[^/]+$/.test(import.meta.url) ? '../modules/thread.js' : './thread.js',
  import.meta.url,
);

const restored = ({ code, message, details }: ToldError): TonosError => new TonosError(code, message, details);

/**
 * Does what runs a chain: here, or in a thread of its own where it has modules, so that one that does not come back ends its file and no
 * other.
 */
export class ChainTasks {
  private thread: { worker: Worker; words: Int32Array } | undefined;

  constructor(private readonly modules: readonly FoundModule[]) {}

  async run<Name extends TaskName>(name: Name, input: TaskInput<Name>): Promise<TaskResult<Name>> {
    if (!this.modules.length) return (await TASKS[name](input as never)) as TaskResult<Name>;
    const { signal, ...sent } = input as { signal?: AbortSignal };
    signal?.throwIfAborted();
    const { worker, words } = this.thread ?? this.start();
    const keeper = new WatchKeeper(words);
    return new Promise<TaskResult<Name>>((resolve, reject) => {
      let grace: NodeJS.Timeout | undefined;
      const settle = (end: () => void, isAlive: boolean) => {
        clearInterval(looking);
        clearTimeout(grace);
        signal?.removeEventListener('abort', cancel);
        worker.removeAllListeners();
        if (!isAlive) this.close();
        end();
      };
      const fail = (error: Error) => settle(() => reject(error), false);
      const looking = setInterval(() => {
        const isIt = keeper.overdue(performance.now());
        if (isIt) fail(this.hung(isIt));
      }, LOOK_MS);
      const cancel = () => {
        worker.postMessage('cancel' satisfies ToThread);
        grace = setTimeout(() => fail(signal!.reason), GRACE_MS);
      };
      worker.on('error', fail);
      worker.on('exit', (code) => fail(new Error(`The thread ended with code ${code}.`)));
      worker.on('message', (answer: FromThread) =>
        settle(() => {
          if ('error' in answer) reject(restored(answer.error));
          else resolve(restoredAll(answer.value) as TaskResult<Name>);
        }, true),
      );
      signal?.addEventListener('abort', cancel);
      worker.postMessage({ name, input: sent } satisfies ToThread);
    });
  }

  close(): void {
    void this.thread?.worker.terminate();
    this.thread = undefined;
  }

  private start() {
    const words = new Int32Array(new SharedArrayBuffer(4 * WATCH_WORDS));
    const workerData: ThreadData = { watch: words, modules: this.modules };
    this.thread = { worker: new Worker(PROGRAM, { workerData }), words };
    return this.thread;
  }

  private hung(isIt: (sha256: string) => boolean): TonosError {
    const found = this.modules.find(({ sha256 }) => isIt(sha256));
    const called = found ? `The module \u201c${found.name}\u201d ${found.version}` : 'The module';
    return new TonosError('module-hangs', `${called} does not come back, and was ended.`);
  }
}

const restoredAll = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map((one) => (one?.status === 'rejected' ? { ...one, reason: restored(one.reason) } : one))
    : value;
