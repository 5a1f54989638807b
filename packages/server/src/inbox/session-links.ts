import { MOST_MEMBERS } from '@tonos/contract';
import { TonosError } from '@tonos/core';
import { In, IsNull, Not } from 'typeorm';
import type { Database } from '../database/database.ts';
import { HttpProblem } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RunItemEntity } from '../runs/run-entity.ts';
import type { SetService } from '../sets/set-service.ts';
import { setsOf } from '../sets/sets-of.ts';
import { ArrivalEntity } from './arrival-entity.ts';

export interface SessionLinksNeeds {
  database: Database;
  sets: SetService;
  report(error: unknown): void;
}

/** Links what came in one folder, once it has been measured. What has nothing in common waits for somebody, and says so. */
export class SessionLinks {
  /** Sessions that are being laid on one time: that can take a minute, and nobody waits for it. */
  private readonly linking = new Map<string, Promise<void>>();
  private readonly stopped = new AbortController();

  constructor(private readonly needs: SessionLinksNeeds) {}

  async look(titleId: string): Promise<void> {
    const waiting = await this.needs.database.of(ArrivalEntity).findBy({ titleId, session: Not(IsNull()) });
    for (const session of new Set(waiting.map((one) => one.session!))) {
      const arrivals = waiting.filter((one) => one.session === session);
      if (arrivals.some(({ apart }) => apart !== null)) await this.lookAgain(titleId, arrivals);
      else await this.link(titleId, session, arrivals);
    }
  }

  async stop(): Promise<void> {
    this.stopped.abort();
    await Promise.all(this.linking.values());
  }

  private async link(titleId: string, session: string, arrivals: readonly ArrivalEntity[]): Promise<void> {
    const key = `${titleId} ${session}`;
    if (this.linking.has(key)) return;
    const recordings = await this.needs.database
      .of(RecordingEntity)
      .findBy({ id: In(arrivals.map(({ recordingId }) => recordingId)), trashedAt: IsNull(), superseded: false });
    if (recordings.some(({ status }) => status === 'measuring')) return;
    const readable = recordings.filter(({ status }) => status === 'ready').map(({ id }) => id);
    const linking = this.make(titleId, readable, arrivals)
      .catch(this.needs.report)
      .finally(() => this.linking.delete(key));
    this.linking.set(key, linking);
  }

  private async make(titleId: string, readable: string[], arrivals: readonly ArrivalEntity[]): Promise<void> {
    try {
      if (readable.length > MOST_MEMBERS)
        throw new TonosError(
          'too-many',
          `A session of ${readable.length} recordings can\u2019t be linked: ${MOST_MEMBERS} at most.`,
        );
      if (readable.length > 1)
        await this.needs.sets.make(titleId, { recordingIds: readable, anyway: false }, this.stopped.signal);
      await this.settle(arrivals, { session: null });
    } catch (error) {
      if (!(error instanceof TonosError)) throw error;
      // it was not looked at to its end: the next look begins it again
      if (this.stopped.signal.aborted || (error instanceof HttpProblem && error.status >= 500)) return;
      await this.settle(arrivals, { apart: error.message });
    }
  }

  /** What could not be linked is done with once somebody has linked it by hand, or run it as it is. */
  private async lookAgain(titleId: string, arrivals: readonly ArrivalEntity[]): Promise<void> {
    const { database } = this.needs;
    const ids = arrivals.map(({ recordingId }) => recordingId);
    const sets = await database.transaction((manager) => setsOf(manager, titleId));
    const isLinked = sets.some(({ members }) => members.some(({ recordingId }) => ids.includes(recordingId)));
    if (isLinked) await this.settle(arrivals, { session: null, apart: null });
    else if (await database.of(RunItemEntity).existsBy({ recordingId: In(ids) }))
      await this.settle(arrivals, { session: null, apart: null, isRun: true });
  }

  private async settle(arrivals: readonly ArrivalEntity[], change: Partial<ArrivalEntity>): Promise<void> {
    const [{ titleId }] = arrivals;
    const recordingId = In(arrivals.map((one) => one.recordingId));
    await this.needs.database.transaction((manager) => manager.update(ArrivalEntity, { titleId, recordingId }, change));
  }
}
