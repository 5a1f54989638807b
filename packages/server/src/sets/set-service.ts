import type { NewSet, RecordingSet, SetChange, SetMember } from '@tonos/contract';
import { figure, LEAST_CONFIDENCE } from '@tonos/core';
import { In } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { RecordingSetEntity } from './set-entity.ts';
import { setsOf } from './sets-of.ts';

interface SetServiceNeeds {
  database: Database;
  store: BlobStore;
  bus: EventBus;
  surroundings: Surroundings;
  queue: OneAtATime;
}

/** Recordings of one session: linked, laid on one time, corrected, unlinked. */
export class SetService {
  constructor(private readonly needs: SetServiceNeeds) {}

  async listOf(titleId: string): Promise<RecordingSet[]> {
    const { database } = this.needs;
    checkThere('title', titleId, await database.of(TitleEntity).findOneBy({ id: titleId }));
    return database.transaction((manager) => setsOf(manager, titleId));
  }

  /** @throws HttpProblem 422 where one has nothing in common with the first, unless it is wanted all the same */
  async make(titleId: string, { recordingIds, anyway }: NewSet, wanted: AbortSignal): Promise<RecordingSet> {
    const { database, surroundings } = this.needs;
    const recordings = await this.readable(titleId, recordingIds);
    const members = await this.aligned(recordings, anyway, wanted);
    const set = { id: surroundings.newId(), titleId, members, createdAt: surroundings.now() };
    await database.transaction(async (manager) => {
      await this.checkFree(await setsOf(manager, titleId), recordings);
      await manager.insert(RecordingSetEntity, set);
    });
    this.tell(titleId);
    return set;
  }

  async change(id: string, { members }: SetChange): Promise<RecordingSet> {
    const { database } = this.needs;
    const set = await database.transaction(async (manager) => {
      const found = await manager.findOneBy(RecordingSetEntity, { id });
      if (!found) throw notFound('set', id);
      const known = new Set(found.members.map(({ recordingId }) => recordingId));
      const foreign = members.find(({ recordingId }) => !known.has(recordingId));
      if (foreign) throw notFound('member of this set', foreign.recordingId);
      return manager.save(RecordingSetEntity, { ...found, members });
    });
    this.tell(set.titleId);
    return set;
  }

  async remove(id: string): Promise<undefined> {
    const { database } = this.needs;
    const set = await database.transaction(async (manager) => {
      const found = await manager.findOneBy(RecordingSetEntity, { id });
      if (!found) throw notFound('set', id);
      await manager.delete(RecordingSetEntity, { id });
      return found;
    });
    this.tell(set.titleId);
  }

  private tell(titleId: string): void {
    this.needs.bus.publish({ type: 'sets', titleId });
  }

  private async readable(titleId: string, ids: readonly string[]): Promise<RecordingEntity[]> {
    const { database } = this.needs;
    checkThere('title', titleId, await database.of(TitleEntity).findOneBy({ id: titleId }));
    const wanted = [...new Set(ids)];
    const found = await database.of(RecordingEntity).findBy({ id: In(wanted) });
    return wanted.map((id) => {
      const recording = found.find((one) => one.id === id);
      if (!recording || recording.titleId !== titleId || recording.trashedAt !== null)
        throw notFound('recording of this title', id);
      if (!recording.measurement)
        throw new HttpProblem(
          409,
          'not-readable',
          `${recording.name} can\u2019t be linked: it is still being measured, or is no sound.`,
        );
      return recording;
    });
  }

  private async checkFree(sets: readonly RecordingSet[], recordings: readonly RecordingEntity[]): Promise<void> {
    const linked = new Set(sets.flatMap(({ members }) => members.map(({ recordingId }) => recordingId)));
    const taken = recordings.find(({ id }) => linked.has(id));
    if (taken)
      throw new HttpProblem(409, 'linked-already', `${taken.name} is in a set already. Unlink that one first.`);
  }

  private async aligned(
    recordings: readonly RecordingEntity[],
    anyway: boolean,
    wanted: AbortSignal,
  ): Promise<SetMember[]> {
    const { queue, store } = this.needs;
    const files = recordings.map(({ sha256, name }) => ({ path: store.pathOf(sha256), name }));
    const end = await queue.run({ type: 'align', name: files[0].name, files }, { wanted, stops: true });
    if (end.type === 'failed') throw new HttpProblem(422, end.error.code, end.error.message);
    if (end.type !== 'aligned')
      throw new HttpProblem(503, 'stopped', 'The recordings were not laid on one time: it was stopped. Try again.');
    return recordings.map(({ id, name }, i) => {
      const { offsetSeconds, driftPpm, confidence } = end.places[i];
      if (confidence >= LEAST_CONFIDENCE) return { recordingId: id, offsetSeconds, driftPpm, confidence };
      if (anyway) return { recordingId: id, offsetSeconds: 0, driftPpm: 0, confidence };
      throw new HttpProblem(
        422,
        'not-together',
        `${name} seems to have no sound in common with ${recordings[0].name} (confidence ${figure(confidence, 2)}). Leave it out, or link it anyway and lay it by hand.`,
        { recordingId: id, confidence },
      );
    });
  }
}
