import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { insist, untilWorthTrying } from '../storage/disk-full.ts';
import type { Surroundings } from '../surroundings.ts';
import type { Work, WorkSource } from '../workers/dispatcher.ts';
import type { JobEnd } from '../workers/messages.ts';
import { secondsLeft } from '../workers/seconds-left.ts';
import { describe } from './describe-recording.ts';
import { RecordingEntity } from './recording-entity.ts';

/** The measuring of recordings that have come in: each is taken once at a time, until its figures stand. */
export class Measuring implements WorkSource {
  private readonly underWay = new Map<string, AbortController>();
  /** How often in a row the end of a measuring could not be kept. */
  private readonly failures = new Map<string, number>();

  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
    private readonly report: (error: unknown) => void,
  ) {}

  /** What was derived can be lost or be of an older version: those recordings are measured again. */
  async recover(): Promise<void> {
    for (const { id, sha256 } of await this.database.of(RecordingEntity).findBy({ status: 'ready' })) {
      if (await this.store.hasDerived(sha256, '.survey')) continue;
      await this.database.transaction((manager) => manager.update(RecordingEntity, { id }, { status: 'measuring' }));
    }
  }

  async take(): Promise<Work | undefined> {
    const waiting = await this.database.of(RecordingEntity).find({
      where: { status: 'measuring' },
      order: { createdAt: 'ASC', position: 'ASC' },
      take: this.underWay.size + 1,
    });
    const next = waiting.find(({ id }) => !this.underWay.has(id));
    if (!next) return undefined;
    const controller = new AbortController();
    this.underWay.set(next.id, controller);
    const startedMs = performance.now();
    const [surveyPath, copyPath] = [this.store.temporaryPath(), this.store.temporaryPath()];
    return {
      job: { type: 'measure', path: this.store.pathOf(next.sha256), name: next.name, surveyPath, copyPath },
      signal: controller.signal,
      progress: (share) => {
        const left = secondsLeft(startedMs, share, performance.now());
        this.bus.publish({
          type: 'recording-progress',
          recordingId: next.id,
          titleId: next.titleId,
          share,
          secondsLeft: left,
        });
      },
      end: async (end) => {
        try {
          if (end.type === 'measured') {
            await this.store.placeDerived(surveyPath, next.sha256, '.survey');
            if (end.copied) await this.store.placeDerived(copyPath, next.sha256, '.wav');
          }
          await insist(() => this.settle(next, end), controller.signal, this.report);
          this.failures.delete(next.id);
        } catch (error) {
          this.failures.set(next.id, (this.failures.get(next.id) ?? 0) + 1);
          throw error;
        } finally {
          // a thread that was ended in the middle leaves its files
          for (const path of [surveyPath, copyPath]) await this.store.discard(path);
          // it is still "measuring", and taken again once it is not under way
          const failures = this.failures.get(next.id) ?? 0;
          if (failures || (end.type === 'failed' && end.error.code === 'disk-full'))
            await untilWorthTrying(controller.signal, failures || 1);
          this.underWay.delete(next.id);
        }
      },
    };
  }

  /** What is under way stays "measuring" and is taken up at the next start. */
  interrupt(): void {
    for (const controller of this.underWay.values()) controller.abort();
  }

  private async settle(recording: RecordingEntity, end: JobEnd): Promise<void> {
    await this.database.transaction(async (manager) => {
      // read again: people may have labelled or marked it meanwhile, or removed it for good
      const now = await manager.findOneBy(RecordingEntity, { id: recording.id, removedAt: IsNull() });
      const change = now && this.outcome(now, end);
      if (change) await manager.save(RecordingEntity, { ...now, ...change });
    });
    const now = await this.database.of(RecordingEntity).findOneBy({ id: recording.id, removedAt: IsNull() });
    if (now) this.bus.publish({ type: 'recording', recording: describe(now) });
  }

  /** A file's own marks come with its first measuring, beside what people made meanwhile; later ones leave them as they are. */
  private outcome(
    { measurement: known, error, marks }: RecordingEntity,
    end: JobEnd,
  ): Partial<RecordingEntity> | undefined {
    if (end.type === 'failed')
      return end.error.code === 'disk-full' ? undefined : { status: 'unreadable', error: end.error };
    if (end.type !== 'measured') return undefined;
    const { measurement, overview, notes } = end;
    const first = !known && !error;
    const own = first ? notes.marks.map((mark) => ({ id: this.surroundings.newId(), ...mark })) : [];
    return { status: 'ready', measurement, overview, tags: notes.tags, marks: [...own, ...marks] };
  }
}
