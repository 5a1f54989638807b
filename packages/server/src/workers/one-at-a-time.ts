import type { Ledger } from '@tonos/core';
import { caller } from '../http/caller.ts';
import type { Job, JobEnd } from './messages.ts';
import { Turns } from './turns.ts';
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

/** Jobs that somebody waits for, one after the other on a thread of their own, and person by person. */
export class OneAtATime {
  private readonly turns = new Turns();

  constructor(private readonly pool: WorkerPool) {}

  run(job: Job, { wanted, stops = false, progress = () => {}, known }: Waiting): Promise<JobEnd> {
    return this.turns.take(caller().personId, async () => {
      if (wanted.aborted) return { type: 'cancelled' as const };
      return known?.() ?? this.pool.run(job, { signal: stops ? wanted : new AbortController().signal, progress });
    });
  }
}
