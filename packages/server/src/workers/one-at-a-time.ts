import type { Ledger } from '@tonos/core';
import type { Job, JobEnd } from './messages.ts';
import type { WorkerPool } from './worker-pool.ts';

interface Waiting {
  /** Aborted where nobody waits any more: a job that has not begun is left out. */
  wanted: AbortSignal;
  /** Whether a job that has begun is stopped too. Short ones end by themselves sooner. */
  stops?: boolean;
  progress?: (share: number, stage: string, ledger?: Ledger) => void;
  /** Asked when its turn has come: what has become known meanwhile is not found out again. */
  known?: () => JobEnd | undefined;
}

/** Jobs that somebody waits for, one after the other on a thread of their own. */
export class OneAtATime {
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly pool: WorkerPool) {}

  run(job: Job, { wanted, stops = false, progress = () => {}, known }: Waiting): Promise<JobEnd> {
    const mine = this.last.then(() => {
      if (wanted.aborted) return { type: 'cancelled' as const };
      return known?.() ?? this.pool.run(job, { signal: stops ? wanted : new AbortController().signal, progress });
    });
    this.last = mine;
    return mine;
  }
}
