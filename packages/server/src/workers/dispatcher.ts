import type { Job, JobEnd } from './messages.ts';
import type { WorkerPool } from './worker-pool.ts';

/** A job that was taken, and what becomes of it. */
export interface Work {
  job: Job;
  signal: AbortSignal;
  /** Told when a thread has it. */
  begun?(): Promise<void>;
  progress(share: number, stage: string): void;
  end(end: JobEnd): Promise<void>;
}

/** Where work comes from. `take` answers undefined where nothing waits. */
export interface WorkSource {
  take(): Promise<Work | undefined>;
}

/** Gives waiting work to free threads, in the order of the sources. */
export class Dispatcher {
  private filling: Promise<void> = Promise.resolve();
  private readonly underWay = new Set<Promise<void>>();
  private stopped = false;
  private later: NodeJS.Timeout | undefined;

  constructor(
    private readonly pool: WorkerPool,
    private readonly sources: readonly WorkSource[],
    private readonly report: (error: unknown) => void,
    /** How long after work could not be taken, as from a database on a full disk, it is tried again. */
    private readonly tryAgainMs = 2000,
  ) {}

  /** Call whenever work may have come up. */
  nudge(): void {
    this.filling = this.filling
      .then(() => this.fill())
      .catch((error) => {
        this.report(error);
        this.later ??= setTimeout(() => {
          this.later = undefined;
          this.nudge();
        }, this.tryAgainMs);
      });
  }

  /** Takes no more work and waits for what is under way; abort it first to be quick. */
  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.later);
    await this.filling;
    await Promise.all(this.underWay);
  }

  private async fill(): Promise<void> {
    while (!this.stopped && this.pool.free > 0) {
      const work = await this.next();
      if (!work) return;
      const done = this.carryOut(work);
      this.underWay.add(done);
      void done.finally(() => this.underWay.delete(done));
    }
  }

  private async next(): Promise<Work | undefined> {
    for (const source of this.sources) {
      const work = await source.take();
      if (work) return work;
    }
    return undefined;
  }

  private async carryOut(work: Work): Promise<void> {
    try {
      const ended = this.pool.run(work.job, {
        signal: work.signal,
        progress: (share, stage) => work.progress(share, stage),
      });
      work.begun?.().catch((error) => this.report(error));
      const end = await ended;
      this.nudge(); // the thread is free, while the result is still being stored
      await work.end(end);
    } catch (error) {
      this.report(error);
    } finally {
      this.nudge();
    }
  }
}
