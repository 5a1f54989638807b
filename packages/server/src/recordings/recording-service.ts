import type {
  Mark,
  Recording,
  RecordingChange,
  RecordingOrder,
  RecordingOverview,
  RecordingsChange,
  RowsQuery,
} from '@tonos/contract';
import { type Measurement, mergeAdjustments, type TimeCut } from '@tonos/core';
import { type EntityManager, In, IsNull, Not } from 'typeorm';
import type { Database } from '../database/database.ts';
import { type Kept, RowCache } from '../database/row-cache.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller } from '../http/caller.ts';
import { JsonText } from '../http/json-text.ts';
import { mediaTypeOf } from '../http/media-types.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import { checkVersion } from '../http/version-header.ts';
import { inSlices } from '../in-slices.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { pickUpsOf } from './by-hand.ts';
import { describe } from './describe-recording.ts';
import { newRecording, replaceable } from './new-recording.ts';
import { type OpenNote, withOpenNotes } from './open-notes.ts';
import { OverviewEntity } from './overview-entity.ts';
import type { ReceivedFile } from './receive-files.ts';
import { RecordingEntity } from './recording-entity.ts';
import { checkCutsOf, type PartKind, type Parts, startOf, withoutPart, withPart } from './recording-parts.ts';
import { type Sight, sightOf } from './sight.ts';
import { checkMayPut, checkMayTake } from './who-may-mark.ts';

/** Rows that are written, or read, in one go: each is some kilobytes of JSON. */
const AT_ONCE = 50;

/** Recordings of titles: brought in, looked at, labelled, marked, ordered, replaced. */
export class RecordingService {
  private readonly rows = new RowCache<Recording>();

  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  async listOf(titleId: string): Promise<Recording[]> {
    return (await this.keptOf(titleId)).map(({ value }) => value);
  }

  /** As `listOf`, or some of them, in JSON. */
  async textOf(titleId: string, some: RowsQuery): Promise<JsonText<Recording[]>> {
    return new JsonText(`[${(await this.keptOf(titleId, some)).map(({ json }) => json).join(',')}]`);
  }

  private async keptOf(titleId: string, { from, count }: RowsQuery = { from: 0 }): Promise<Kept<Recording>[]> {
    await this.checkTitle(titleId);
    const query = this.entities
      .createQueryBuilder('recording')
      .where({ titleId, trashedAt: IsNull(), superseded: false })
      .orderBy('recording.position')
      .addOrderBy('recording.id')
      .offset(from)
      .limit(count);
    // the figures change with the status only
    const columns = this.database.lightOf('recording', RecordingEntity, ['measurement']);
    return this.rows.complete(await this.database.signsOf(query, columns), async (missing) =>
      (await this.entities.findBy({ id: In(missing) })).map(describe),
    );
  }

  async trashOf(titleId: string): Promise<Recording[]> {
    await this.checkTitle(titleId);
    return (
      await this.entities.find({
        where: { titleId, trashedAt: Not(IsNull()), removedAt: IsNull(), superseded: false },
        order: { trashedAt: 'DESC' },
      })
    ).map(describe);
  }

  /** The hash of every source that a title has or had: older takes and what lies in the trash included. */
  async sourcesOf(titleId: string): Promise<Map<string, string>> {
    const all = await this.entities.find({ where: { titleId }, select: { id: true, sha256: true } });
    return new Map(all.map(({ id, sha256 }) => [id, sha256]));
  }

  /** What nobody has seen to, by the recordings of a title. */
  async openNotesOf(titleId: string): Promise<Map<string, OpenNote[]>> {
    const all = await withOpenNotes(this.entities);
    return new Map(all.filter((one) => one.titleId === titleId).map(({ id, notes }) => [id, notes]));
  }

  /** Labels, adjustments, trash and restore, for many at once. All of them or none. */
  async change({ ids, trashed, adjust, ...labels }: RecordingsChange): Promise<Recording[]> {
    const wanted = [...new Set(ids)];
    // pages ask anew what hangs on a change: what was not touched is not told
    const told = new Set<keyof Recording>(['version', ...(adjust ? (['adjustments'] as const) : [])]);
    const recordings = await this.database.transaction(async (manager) => {
      const change = {
        ...labels,
        ...(trashed === undefined ? {} : { trashedAt: trashed ? this.surroundings.now() : null }),
      };
      const given = Object.entries(change).filter(([, value]) => value !== undefined);
      for (const [key] of given) told.add(key as keyof Recording);
      const counts = adjust || Object.values(labels).some((value) => value !== undefined);
      // what only goes to the trash, and comes back, is what it was
      const version = counts ? { version: () => 'version + 1' } : {};
      if (given.length || counts)
        await inSlices(wanted, AT_ONCE, async (some) => {
          await manager.update(RecordingEntity, { id: In(some) }, { ...Object.fromEntries(given), ...version });
          return [];
        });
      if (adjust) {
        for (const recording of await manager.findBy(RecordingEntity, { id: In(wanted) })) {
          const own = adjust.replace ? [] : (recording.adjustments[adjust.chainId] ?? []);
          const before = own.filter(({ id }) => !adjust.clear.includes(id));
          recording.adjustments = {
            ...recording.adjustments,
            [adjust.chainId]: mergeAdjustments(before, adjust.steps),
          };
          await manager.save(recording);
        }
      }
      // who changes something else waits until this is over: what is told of these rows is never older than what was told before
      const read = (some: readonly string[]) => manager.findBy(RecordingEntity, { id: In(some), removedAt: IsNull() });
      const changed = await inSlices(wanted, AT_ONCE, async (some) => (await read(some)).map(describe));
      const there = new Set(changed.map(({ id }) => id));
      const missing = wanted.find((id) => !there.has(id));
      if (missing) throw notFound('recording', missing);
      return changed.sort((a, b) => a.position - b.position);
    });
    this.tellParts(recordings, [...told]);
    return recordings;
  }

  /** P9: one event for all of a title, with what can have changed of each. */
  private tellParts(recordings: readonly Recording[], keys: readonly (keyof Recording)[]): void {
    for (const titleId of new Set(recordings.map((one) => one.titleId))) {
      const own = recordings.filter((one) => one.titleId === titleId);
      const changes = own.map((one) => ({ id: one.id, ...Object.fromEntries(keys.map((key) => [key, one[key]])) }));
      this.bus.publish({ type: 'recordings', titleId, changes });
    }
  }

  /**
   * Marks, room tone, boxes, its name: what is given takes the place of what was there.
   * @param seen the version that the change was made on
   */
  mark(id: string, change: RecordingChange, seen?: number): Promise<Recording> {
    const given = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
    const named = <Part extends { id?: string }>(parts: readonly Part[]) =>
      parts.map((part) => ({ ...part, id: part.id ?? this.surroundings.newId() }));
    const { marks, boxes, cuts } = change;
    return this.alter(id, seen, (recording) => {
      if (cuts) checkCutsOf(recording, cuts);
      return {
        ...given,
        ...(marks && { marks: marks.map((mark) => this.dated(mark)) }),
        ...(boxes && { boxes: named(boxes) }),
        ...(cuts && { cuts: named(cuts).sort((a, b) => startOf(a) - startOf(b)) }),
      };
    });
  }

  /** A note says since when it stands. */
  private dated(mark: Mark): Mark {
    const { note } = mark;
    if (!note) return mark;
    return { ...mark, note: { ...note, by: note.by || caller().name, at: note.at ?? this.surroundings.now() } };
  }

  /**
   * P17: one mark, box or cut by its id, whatever others do to the rest.
   * @throws HttpProblem 422 where there are too many, or where a cut does not fit the others
   */
  async setPart<Kind extends PartKind>(id: string, kind: Kind, given: Parts[Kind]): Promise<Recording> {
    const own = kind === 'marks' ? (this.dated(given as Mark) as Parts[Kind]) : given;
    return this.alter(id, undefined, (recording) => {
      checkMayPut(recording, kind, own);
      return withPart(recording, kind, own);
    });
  }

  async removePart(id: string, kind: PartKind, partId: string): Promise<undefined> {
    await this.alter(id, undefined, (recording) => {
      checkMayTake(recording, kind, partId);
      return withoutPart(recording, kind, partId);
    });
  }

  /** The files of the recordings that pick-ups come from. */
  pickUpsOf(cuts: readonly TimeCut[]) {
    return pickUpsOf(this.entities, cuts);
  }

  private async alter(
    id: string,
    seen: number | undefined,
    change: (recording: RecordingEntity) => Partial<RecordingEntity>,
  ): Promise<Recording> {
    await this.database.transaction(async (manager) => {
      const recording = await this.find(id);
      const { name, version } = recording;
      const message = `Somebody else changed ${name} meanwhile. Load it again, and repeat the change.`;
      checkVersion(seen, version, message, { recording: describe(recording) });
      const changed = { ...recording, ...change(recording), version: version + 1 };
      await manager.save(RecordingEntity, changed);
    });
    const recording = await this.get(id);
    this.bus.publish({ type: 'recording', recording });
    return recording;
  }

  /** The music and the sounds of all titles. */
  async shelf(): Promise<Recording[]> {
    const found = await this.entities
      .createQueryBuilder('recording')
      .innerJoin(TitleEntity, 'title', 'title.id = recording.titleId AND title.trashedAt IS NULL')
      .where({ kind: Not('voice'), trashedAt: IsNull(), superseded: false })
      .orderBy('recording.kind')
      .addOrderBy('recording.name')
      .getMany();
    return found.filter(({ titleId }) => caller().sees(titleId)).map(describe);
  }

  async get(id: string): Promise<Recording> {
    return describe(await this.find(id));
  }

  async overview(id: string): Promise<RecordingOverview> {
    if (!(await this.entities.existsBy({ id, removedAt: IsNull() }))) throw notFound('recording', id);
    const found = await this.database.of(OverviewEntity).findOneBy({ recordingId: id });
    return { columns: found?.levels ?? [] };
  }

  /** The file as it came, and what it is to be taken for. */
  async audio(id: string): Promise<{ path: string; mediaType: string; name: string }> {
    const { sha256, measurement, name } = await this.readable(id, 'given out');
    return { path: this.store.pathOf(sha256), mediaType: mediaTypeOf(measurement.container), name };
  }

  /** What looking and listening read: the survey, and samples at random. */
  async sight(id: string): Promise<Sight> {
    const { sha256, name } = await this.readable(id, 'shown or played');
    return sightOf(this.store, sha256, name);
  }

  /** A recording whose figures are known. @param done what can't be done otherwise: "given out" */
  async readable(id: string, done: string): Promise<RecordingEntity & { measurement: Measurement }> {
    const recording = await this.find(id);
    const { measurement, name } = recording;
    if (measurement) return { ...recording, measurement };
    const message = `${name} can't be ${done}: it is still being measured, or is no sound.`;
    throw new HttpProblem(409, 'not-readable', message);
  }

  /** Of a recording that there is, or was, in bytes; null where there never was one of this id. */
  async sizeOf(id: string): Promise<number | null> {
    return (await this.entities.findOne({ where: { id }, select: { id: true, sizeBytes: true } }))?.sizeBytes ?? null;
  }

  /** @throws HttpProblem 404 where no file can take the place of this recording */
  async checkReplaceable(titleId: string, id: string): Promise<void> {
    await replaceable(this.entities, titleId, id);
  }

  /** So many bytes of sources a person has sent that are there still. */
  async bytesOf(personId: string): Promise<number> {
    const where = { personId, removedAt: IsNull() };
    return (await this.entities.sum('sizeBytes', where)) ?? 0;
  }

  async checkTitle(titleId: string): Promise<void> {
    if (!caller().sees(titleId)) throw notFound('title', titleId);
    checkThere('title', titleId, await this.database.of(TitleEntity).findOneBy({ id: titleId }));
  }

  /**
   * Files that lie in the store by now become recordings of a title, at its end, in the order given. With `replaces` the one file
   * becomes the current take of that recording, in its place.
   * @param also what is to be written with them, all or nothing
   */
  async add(
    titleId: string,
    files: readonly ReceivedFile[],
    replaces?: string,
    also: (manager: EntityManager, added: readonly RecordingEntity[]) => Promise<unknown> = async () => {},
  ): Promise<Recording[]> {
    if (replaces !== undefined && files.length !== 1)
      throw new HttpProblem(422, 'one-take', `One file replaces a recording, not ${files.length}. Send one.`);
    const added = await this.database.transaction(async (manager) => {
      const repository = manager.getRepository(RecordingEntity);
      const last = (await repository.maximum('position', { titleId })) ?? 0;
      const old = replaces === undefined ? null : await replaceable(repository, titleId, replaces);
      const entities = files.map((file, i) =>
        newRecording({ titleId, file, position: last + 1 + i, old }, this.surroundings),
      );
      if (old) await repository.update({ takeOf: old.takeOf }, { superseded: true });
      await repository.save(entities);
      await also(manager, entities);
      return entities;
    });
    this.store.recorded(files.map(({ sha256 }) => sha256));
    const recordings = added.map(describe);
    for (const recording of recordings) this.bus.publish({ type: 'recording', recording });
    if (replaces !== undefined) this.bus.publish({ type: 'recording', recording: await this.get(replaces) });
    return recordings;
  }

  /** All takes of a recording, the newest first. */
  async takes(id: string): Promise<Recording[]> {
    const { takeOf } = await this.find(id);
    const all = await this.entities.find({ where: { takeOf, removedAt: IsNull() }, order: { createdAt: 'DESC' } });
    return all.filter(({ superseded, trashedAt }) => !superseded || trashedAt === null).map(describe);
  }

  /** This take is the current one from now on, in the place that the current one has. */
  async use(id: string): Promise<Recording> {
    const { takeOf } = await this.find(id);
    await this.database.transaction(async (manager) => {
      const current = await manager.findOneBy(RecordingEntity, { takeOf, superseded: false });
      await manager.update(RecordingEntity, { takeOf }, { superseded: true });
      const place = current ? { position: current.position, trashedAt: current.trashedAt } : {};
      await manager.update(RecordingEntity, { id }, { superseded: false, ...place });
    });
    const recording = await this.get(id);
    this.bus.publish({ type: 'recording', recording });
    return recording;
  }

  async order(titleId: string, { recordingIds }: RecordingOrder): Promise<Recording[]> {
    await this.checkTitle(titleId);
    await this.database.transaction(async (manager) => {
      const current = await manager.find(RecordingEntity, {
        where: { titleId, superseded: false },
        order: { position: 'ASC' },
        select: { id: true },
      });
      const ids = new Set(current.map(({ id }) => id));
      const unknown = recordingIds.find((id) => !ids.has(id));
      if (unknown !== undefined) throw notFound('recording of this title', unknown);
      const ordered = new Set([...recordingIds, ...ids]);
      await manager.query(
        `UPDATE recording SET position = place.key + 1 FROM json_each(?) AS place WHERE recording.id = place.value`,
        [JSON.stringify([...ordered])],
      );
    });
    const recordings = await this.listOf(titleId);
    this.tellParts(recordings, ['position']);
    return recordings;
  }

  private async find(id: string): Promise<RecordingEntity> {
    const recording = await this.entities.findOneBy({ id, removedAt: IsNull() });
    if (!recording) throw notFound('recording', id);
    return recording;
  }

  private get entities() {
    return this.database.of(RecordingEntity);
  }
}
