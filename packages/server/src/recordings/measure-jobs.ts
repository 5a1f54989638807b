import { type EntityManager, IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import { findRow, findRowOrFail, updateRows } from '../database/rows.ts';
import type { EventBus } from '../events/event-bus.ts';
import type { ClaimEntity } from '../jobs/claim-entity.ts';
import type { Ended, Held, JobKind, Keeping } from '../jobs/job-kind.ts';
import type { MeasurePayload, Payload } from '../jobs/payload.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import type { JobEnd } from '../workers/messages.ts';
import { describe } from './describe-recording.ts';
import { OverviewEntity } from './overview-entity.ts';
import { RecordingEntity } from './recording-entity.ts';

/** Those that nobody has claimed, written out: the index of what waits serves statements that name the status. */
const FREE = `"recording" INDEXED BY "recording_waits" WHERE "status" = 'measuring' AND NOT EXISTS (SELECT 1 FROM "job_claim" WHERE "job_claim"."kind" = 'measure' AND "job_claim"."subjectId" = "recording"."id")`;
const FIRST = `SELECT "id" FROM ${FREE} ORDER BY "createdAt", "position" LIMIT 1`;
const SO_MANY = `SELECT COUNT(*) AS "count" FROM (SELECT 1 FROM ${FREE} LIMIT ?)`;

/** The measuring of recordings that have come in: each is taken once at a time, until its figures stand. */
export class MeasureJobs implements JobKind {
  readonly kind = 'measure';
  readonly leadsOn = true;

  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  /** What was derived can be lost or be of an older version: those recordings are measured again. */
  async recover(): Promise<void> {
    for (const { id, sha256 } of await this.database.of(RecordingEntity).findBy({ status: 'ready' })) {
      if (await this.store.hasDerived(sha256, '.survey')) continue;
      await this.database.transaction((manager) => manager.update(RecordingEntity, { id }, { status: 'measuring' }));
    }
  }

  async next(manager: EntityManager): Promise<string | undefined> {
    const [found] = await manager.query<{ id: string }[]>(FIRST);
    return found?.id;
  }

  async hold(manager: EntityManager, id: string): Promise<Held> {
    const { titleId, name, sha256 } = await findRowOrFail(manager, RecordingEntity, { id });
    return { subjectId: id, itemIds: [], titleId, payload: { kind: 'measure', name, sha256 } };
  }

  async waiting(most: number): Promise<number> {
    const [{ count }] = await this.database.many<{ count: number }>(SO_MANY, [most]);
    return count;
  }

  isWanted({ subjectId: id }: ClaimEntity): Promise<boolean> {
    return this.database.of(RecordingEntity).existsBy({ id, status: 'measuring', removedAt: IsNull() });
  }

  /** It stays "measuring", and is taken up again by whoever comes next. */
  async release(): Promise<void> {}

  async keep({ subjectId: id }: ClaimEntity, payload: Payload, { end, made: [made] }: Ended): Promise<Keeping> {
    if (end.type === 'measured') {
      const { sha256 } = payload as MeasurePayload;
      await this.store.placeDerived(made.survey!, sha256, '.survey');
      if (end.copied) await this.store.placeDerived(made.copy!, sha256, '.wav');
    }
    const write = async (manager: EntityManager) => {
      // read again: people may have labelled or marked it meanwhile, or removed it for good
      const now = await findRow(manager, RecordingEntity, { id, removedAt: null });
      const change = now && this.outcome(now, end);
      if (!change) return;
      await updateRows(manager, RecordingEntity, { id }, change);
      if (end.type === 'measured')
        await manager.upsert(OverviewEntity, { recordingId: id, levels: end.overview }, ['recordingId']);
    };
    return { write };
  }

  progress(
    { subjectId: recordingId, titleId }: ClaimEntity,
    share: number,
    _: string,
    secondsLeft: number | null,
  ): void {
    this.bus.publish({ type: 'recording-progress', recordingId, titleId, share, secondsLeft });
  }

  async publish({ subjectId: id, titleId }: ClaimEntity): Promise<void> {
    this.bus.note({ type: 'recordings', titleId, changes: [] });
    if (!this.bus.isHeard) return;
    const now = await this.database.of(RecordingEntity).findOneBy({ id, removedAt: IsNull() });
    if (now && now.status !== 'measuring') this.bus.publish({ type: 'recording', recording: describe(now) });
  }

  /** A file's own marks come with its first measuring, beside what people made meanwhile; later ones leave them as they are. */
  private outcome(
    { measurement: known, error, marks }: RecordingEntity,
    end: JobEnd,
  ): Partial<RecordingEntity> | undefined {
    if (end.type === 'failed') return { status: 'unreadable', error: end.error };
    if (end.type !== 'measured') return undefined;
    const { measurement, notes } = end;
    const first = !known && !error;
    const own = first ? notes.marks.map((mark) => ({ id: this.surroundings.newId(), ...mark })) : [];
    return { status: 'ready', measurement, tags: notes.tags, marks: [...own, ...marks] };
  }
}
