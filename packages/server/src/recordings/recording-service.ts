import type { Recording, RecordingOverview } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { Work, WorkSource } from '../workers/dispatcher.ts';
import type { JobEnd } from '../workers/messages.ts';
import { secondsLeft } from '../workers/seconds-left.ts';
import type { ReceivedFile } from './receive-files.ts';
import { RecordingEntity } from './recording-entity.ts';

/** Recordings of titles, and the measuring of those that have just come in. */
export class RecordingService implements WorkSource {
  private readonly underWay = new Map<string, AbortController>();

  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  async listOf(titleId: string): Promise<Recording[]> {
    await this.checkTitle(titleId);
    return (await this.entities.find({ where: { titleId }, order: { position: 'ASC' } })).map(describe);
  }

  async get(id: string): Promise<Recording> {
    return describe(await this.find(id));
  }

  async overview(id: string): Promise<RecordingOverview> {
    const found = await this.entities.findOne({ where: { id }, select: { id: true, overview: true } });
    if (!found) throw notFound('recording', id);
    return { columns: found.overview ?? [] };
  }

  /** Where the file lies, and what a browser should take it for. */
  async audio(id: string): Promise<{ path: string; mediaType: string; name: string }> {
    const { sha256, measurement, name } = await this.find(id);
    if (!measurement)
      throw new HttpProblem(
        409,
        'not-readable',
        `${name} can't be played: it is still being measured, or is no sound.`,
      );
    return {
      path: this.store.pathOf(sha256),
      mediaType: MEDIA_TYPES[measurement.container] ?? 'application/octet-stream',
      name,
    };
  }

  async checkTitle(titleId: string): Promise<void> {
    if (!(await this.database.of(TitleEntity).existsBy({ id: titleId }))) throw notFound('title', titleId);
  }

  /** Files that lie in the store by now become recordings of a title, at its end, in the order given. */
  async add(titleId: string, files: readonly ReceivedFile[]): Promise<Recording[]> {
    const { newId, now } = this.surroundings;
    const added = await this.database.transaction(async (manager) => {
      const repository = manager.getRepository(RecordingEntity);
      const last = (await repository.maximum('position', { titleId })) ?? 0;
      const entities = files.map(({ name, sha256, sizeBytes }, i) => ({
        id: newId(),
        titleId,
        name,
        position: last + 1 + i,
        status: 'measuring' as const,
        sha256,
        sizeBytes,
        measurement: null,
        overview: null,
        error: null,
        createdAt: now(),
      }));
      await repository.insert(entities);
      return entities;
    });
    const recordings = added.map(describe);
    for (const recording of recordings) this.bus.publish({ type: 'recording', recording });
    return recordings;
  }

  async take(): Promise<Work | undefined> {
    const waiting = await this.entities.find({
      where: { status: 'measuring' },
      order: { createdAt: 'ASC', position: 'ASC' },
      take: this.underWay.size + 1,
    });
    const next = waiting.find(({ id }) => !this.underWay.has(id));
    if (!next) return undefined;
    const controller = new AbortController();
    this.underWay.set(next.id, controller);
    const startedMs = performance.now();
    return {
      job: { type: 'measure', path: this.store.pathOf(next.sha256), name: next.name },
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
      end: (end) => this.settle(next, end).finally(() => this.underWay.delete(next.id)),
    };
  }

  /** What is under way stays "measuring" and is taken up at the next start. */
  interrupt(): void {
    for (const controller of this.underWay.values()) controller.abort();
  }

  private async settle(recording: RecordingEntity, end: JobEnd): Promise<void> {
    const change = outcome(end);
    if (!change) return;
    await this.database.transaction((manager) => manager.save(RecordingEntity, { ...recording, ...change }));
    this.bus.publish({ type: 'recording', recording: await this.get(recording.id) });
  }

  private async find(id: string): Promise<RecordingEntity> {
    const recording = await this.entities.findOneBy({ id });
    if (!recording) throw notFound('recording', id);
    return recording;
  }

  private get entities() {
    return this.database.of(RecordingEntity);
  }
}

export const MEDIA_TYPES: Readonly<Record<string, string>> = {
  wav: 'audio/wav',
  rf64: 'audio/wav',
  bw64: 'audio/wav',
  flac: 'audio/flac',
  mp3: 'audio/mpeg',
  ogg: 'audio/ogg',
  aiff: 'audio/aiff',
};

function outcome(end: JobEnd): Partial<RecordingEntity> | undefined {
  if (end.type === 'measured') return { status: 'ready', measurement: end.measurement, overview: end.overview };
  return end.type === 'failed' ? { status: 'unreadable', error: end.error } : undefined;
}

const describe = ({
  id,
  titleId,
  name,
  position,
  status,
  sizeBytes,
  sha256,
  measurement,
  error,
  createdAt,
}: RecordingEntity): Recording => ({
  id,
  titleId,
  name,
  position,
  status,
  sizeBytes,
  sha256,
  measurement,
  error,
  createdAt,
});
