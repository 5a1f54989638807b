import { Worker } from 'node:worker_threads';
import { type Ledger, modulesIn, WATCH_WORDS, WatchKeeper } from '@tonos/core';
import type { FromWorker, Job, JobEnd, ModulePlace, ToWorker, WorkerData } from './messages.ts';

/** A job that is told to stop has this long; then its thread is ended. */
const CANCEL_GRACE_MS = 1500;

/** A thread at work says so every few seconds; one that says nothing for twice this long hangs. */
const QUIET_MS = 45_000;

/** How often it is looked whether a module has come back. */
const LOOK_AT_MODULES_MS = 200;

/** Beside this file: built where this is built, through a loader where this runs from its source. */
const BESIDE = new URL(import.meta.url.endsWith('.ts') ? './from-source.mjs' : './audio-worker.js', import.meta.url);

/** A thread, and what its modules enter and leave. */
interface Thread {
  worker: Worker;
  watch: Int32Array;
}

/** The only threads of the server. A thread that dies fails its job and is replaced. */
export class WorkerPool {
  private readonly idle: Thread[] = [];
  private readonly all = new Set<Worker>();
  private busy = 0;

  constructor(
    readonly size: number,
    private readonly workerFile: URL = BESIDE,
    private readonly options: {
      /** Whether its threads give way to all others. */
      background?: boolean;
      quietMs?: number;
      /** Where a module lies, by its content. */
      pathOf?(sha256: string): string;
    } = {},
  ) {}

  get free(): number {
    return this.size - this.busy;
  }

  /** Runs a job on a free thread; call only while `free` is above 0. Never rejects. */
  run(
    job: Job,
    options: { signal: AbortSignal; progress: (share: number, stage: string, ledger?: Ledger) => void },
  ): Promise<JobEnd> {
    const thread = this.idle.pop() ?? this.start();
    const { worker } = thread;
    const modules = this.modulesOf(job);
    worker.removeAllListeners('exit');
    this.busy++;
    return new Promise((resolve) => {
      let grace: NodeJS.Timeout | undefined;
      const settle = (end: JobEnd, alive: boolean) => {
        clearTimeout(grace);
        clearInterval(quietWatch);
        clearInterval(moduleWatch);
        options.signal.removeEventListener('abort', cancel);
        for (const name of ['message', 'error', 'exit']) worker.removeAllListeners(name);
        worker.on('error', () => {}); // a thread that is on its way out has nothing more to say
        this.busy--;
        if (alive) {
          this.idle.push(thread);
          // P15: one that dies while it has nothing to do gets no next job
          worker.once('exit', () => this.forget(thread));
          worker.unref();
        } else {
          this.all.delete(worker);
          void worker.terminate();
        }
        resolve(end);
      };
      const cancel = () => {
        worker.postMessage({ type: 'cancel' } satisfies ToWorker);
        grace = setTimeout(() => settle({ type: 'cancelled' }, false), CANCEL_GRACE_MS);
      };
      const failed = (code: string, message: string) => settle({ type: 'failed', error: { code, message } }, false);
      const died = (reason: string) =>
        failed(
          'worker-died',
          `${job.name} could not be processed: ${reason}. Try it again; if it stays, the file may be damaged.`,
        );
      const keeper = new WatchKeeper(thread.watch);
      const lookAtModules = () => {
        const isIt = keeper.overdue(performance.now());
        if (!isIt) return;
        const called = modules.find(({ sha256 }) => isIt(sha256));
        const what = called ? `the module \u201c${called.name}\u201d ${called.version}` : 'the module';
        failed('module-hangs', `${job.name}: ${what} does not come back, and was ended. Take it out of the chain.`);
      };
      const moduleWatch =
        modules.length || job.type === 'check-module' ? setInterval(lookAtModules, LOOK_AT_MODULES_MS) : undefined;
      // twice, so that a machine that slept lets its threads speak first
      let quiet = 0;
      const quietWatch = setInterval(() => {
        if (++quiet === 2) died('its thread hangs');
      }, this.options.quietMs ?? QUIET_MS);
      worker.on('message', (message: FromWorker) => {
        quiet = 0;
        if (message.type === 'alive') return;
        if (message.type === 'progress') options.progress(message.share, message.stage, message.ledger);
        else settle(message, true);
      });
      worker.on('error', (error) => died(error.message));
      worker.on('exit', (code) => died(`its thread ended with code ${code}`));
      worker.ref();
      worker.postMessage({ type: 'job', job, modules } satisfies ToWorker);
      if (options.signal.aborted) cancel();
      else options.signal.addEventListener('abort', cancel);
    });
  }

  async close(): Promise<void> {
    await Promise.all([...this.all].map((worker) => worker.terminate()));
    this.all.clear();
    this.idle.length = 0;
  }

  private modulesOf(job: Job): ModulePlace[] {
    const { pathOf } = this.options;
    return pathOf ? modulesIn(job).map((one) => ({ ...one, path: pathOf(one.sha256) })) : [];
  }

  private forget(thread: Thread): void {
    this.all.delete(thread.worker);
    const at = this.idle.indexOf(thread);
    if (at >= 0) this.idle.splice(at, 1);
  }

  private start(): Thread {
    const watch = new Int32Array(new SharedArrayBuffer(4 * WATCH_WORDS));
    const workerData: WorkerData = { background: this.options.background, watch };
    const worker = new Worker(this.workerFile, { workerData });
    this.all.add(worker);
    return { worker, watch };
  }
}
