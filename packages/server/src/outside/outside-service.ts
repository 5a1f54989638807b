import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { FrozenSound, NewOuting, Outing, Outings, OutsideFile } from '@tonos/contract';
import { type ChainStep, configureChain, moduleOf, safeName, signedFigure, stepIds, stepOf } from '@tonos/core';
import { mapOfReturn } from '@tonos/render';
import { type EntityManager, In } from 'typeorm';
import { ChainEntity, ChainRevisionEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import { updateRows } from '../database/update-rows.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller } from '../http/caller.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import { byHandOf, markedOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import { DraftEntity } from '../revisions/draft-entity.ts';
import { RecordingSetEntity } from '../sets/set-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { basisOf, beginOf, stepsBehind, stepsUpTo } from './basis.ts';
import type { Arrived, ExchangeFolder } from './exchange-folder.ts';
import { OutingEntity } from './outing-entity.ts';

interface OutsideNeeds {
  database: Database;
  store: BlobStore;
  bus: EventBus;
  recordings: RecordingService;
  folder: ExchangeFolder;
  queue: OneAtATime;
  surroundings: Surroundings;
  /** The largest file that may be handed in. */
  largestBytes: number;
  /** There is something to measure. */
  nudge(): void;
  report(error: unknown): void;
}

type Place = Pick<OutingEntity, 'chainId' | 'stepId' | 'stepTitle'> & { steps: readonly ChainStep[] };
const BEFORE_ALL: Place = { chainId: null, stepId: null, stepTitle: null, steps: [] };

/** Sound that goes out to other programs as files, and what comes back of it, which is laid in at its very place. */
export class OutsideService {
  private timer: NodeJS.Timeout | undefined;
  private looking: Promise<void> = Promise.resolve();
  private making: Promise<void> = Promise.resolve();
  private readonly stopped = new AbortController();
  private coming = new Set<string>();
  private strangers: string[] = [];

  constructor(private readonly needs: OutsideNeeds) {}

  /** Goes on with what an earlier start left in the making, and looks for what comes back. */
  async watch(everyMs: number): Promise<void> {
    await this.needs.folder.isThere();
    for (const { id } of await this.entities.findBy({ state: 'making' })) this.make(id);
    this.timer = setInterval(() => void this.look(), everyMs);
    this.timer.unref();
  }

  async stop(): Promise<void> {
    clearInterval(this.timer);
    this.stopped.abort();
    await this.looking;
    await this.making;
  }

  async list(): Promise<Outings> {
    const { database, folder } = this.needs;
    const rows = (await this.entities.find({ order: { createdAt: 'DESC', fileName: 'ASC' } })).filter(({ titleId }) =>
      caller().sees(titleId),
    );
    const described = await database.transaction((manager) => this.describe(manager, rows));
    const { told, trouble } = folder;
    return { outings: described, folder: { ...told, trouble }, strangers: this.strangers };
  }

  /** Sends recordings out; each is written when its turn comes. @throws HttpProblem 404, 409, 422 */
  async send({ recordingIds, chainId, stepId }: NewOuting): Promise<Outing[]> {
    const { database, surroundings, folder } = this.needs;
    if (!(await folder.isThere())) throw new HttpProblem(409, 'no-exchange', folder.trouble!);
    const rows = await database.transaction(async (manager) => {
      const place = chainId === null ? BEFORE_ALL : await this.placeOf(manager, chainId, stepId!);
      const made: OutingEntity[] = [];
      for (const id of new Set(recordingIds)) {
        const recording = checkThere('recording', id, await manager.findOneBy(RecordingEntity, { id }));
        if (recording.status !== 'ready') throw notReady(recording);
        if (chainId !== null) await this.checkAlone(manager, recording);
        const own = chainId === null ? [] : stepsUpTo(place.steps, recording, chainId, stepId!)!;
        configureChain(own.filter(({ on }) => on)); // names an unknown kind, and what is out of range
        const rowId = surroundings.newId();
        made.push({
          ...{ id: rowId, recordingId: id, titleId: recording.titleId },
          ...{ chainId, stepId, stepTitle: place.stepTitle, steps: own },
          fileName: nameOf(recording, place.stepTitle, rowId),
          ...{ state: 'making', note: '', lies: null, timeMap: null },
          basis: basisOf(recording, chainId, own),
          ...{ createdAt: surroundings.now(), backAt: null, backSha256: null, stamp: '', takeBefore: null },
        });
      }
      await manager.save(OutingEntity, made);
      return made;
    });
    for (const { id } of rows) this.make(id);
    return this.told(rows.map(({ id }) => id));
  }

  /** The file that went out. @throws HttpProblem 404, 409 while it is being written */
  async file(id: string): Promise<{ path: string; mediaType: string; name: string }> {
    const { fileName, state } = await this.find(id);
    const isThere = existsSync(join(this.needs.folder.out, fileName));
    if (state === 'making' || state === 'failed' || !isThere)
      throw new HttpProblem(
        409,
        'not-out',
        `${fileName} is not written yet, or is gone from the exchange folder. Wait, or send it out again.`,
      );
    return { path: join(this.needs.folder.out, fileName), mediaType: 'audio/wav', name: fileName };
  }

  /** Takes what somebody hands in as the file that came back; it is laid in as one that was written into the folder. */
  async handIn(id: string, bytes: Readable): Promise<Outing> {
    const { fileName } = await this.find(id);
    const { folder } = this.needs;
    if (!(await folder.isThere())) throw new HttpProblem(409, 'no-exchange', folder.trouble!);
    const limited = noMoreThan(this.needs.largestBytes, fileName);
    await folder.handIn(fileName, (path) => pipeline(bytes, limited, createWriteStream(path)));
    const [told] = await this.told([id]);
    return told;
  }

  /** What stands in its place is what stood there before. */
  async takeOut(id: string): Promise<Outing> {
    const { database, recordings } = this.needs;
    const row = await this.find(id);
    if (row.chainId === null) {
      if (!row.takeBefore) throw notLaidIn(row);
      await recordings.use(row.takeBefore);
      await this.change(id, { takeBefore: null });
    } else {
      const recording = await database.transaction(async (manager) => {
        const current = await currentTake(manager, row.recordingId);
        const { [row.chainId!]: frozen, ...rest } = current?.frozen ?? {};
        if (!current || !frozen || frozen.sha256 !== row.backSha256) throw notLaidIn(row);
        await manager.update(RecordingEntity, { id: current.id }, { frozen: rest, version: current.version + 1 });
        return current.id;
      });
      await this.tellRecording(recording);
    }
    const [told] = await this.told([id]);
    return told;
  }

  /** It is not waited for any more. What was laid in stays. */
  async forget(id: string): Promise<undefined> {
    const { database, folder, bus } = this.needs;
    const { fileName, titleId } = await this.find(id);
    await database.transaction((manager) => manager.delete(OutingEntity, { id }));
    await folder.clear(fileName);
    bus.publish({ type: 'outing', titleId });
  }

  private async placeOf(manager: EntityManager, chainId: string, stepId: string): Promise<Place> {
    const chain = checkThere('chain', chainId, await manager.findOneBy(ChainEntity, { id: chainId }));
    for (const steps of await stepsOfChain(manager, chain)) {
      const at = stepIds(steps).indexOf(stepId);
      if (at < 0) continue;
      const stepTitle = stepOf(steps[at])?.title ?? moduleOf(steps[at])?.name ?? steps[at].kind;
      return { chainId, stepId, stepTitle, steps };
    }
    throw notFound(`step of the chain \u201c${chain.name}\u201d`, stepId);
  }

  /** Members of a set share one time: what is done to one alone would part it from the others. */
  private async checkAlone(manager: EntityManager, { id, name, titleId }: RecordingEntity): Promise<void> {
    const sets = await manager.findBy(RecordingSetEntity, { titleId });
    if (!sets.some(({ members }) => members.some(({ recordingId }) => recordingId === id))) return;
    const message = `${name} is linked with others, and shares their time. Send it out before the chain, or unlink it.`;
    throw new HttpProblem(409, 'linked', message);
  }

  /** Writes what goes out, one after the other. */
  private make(id: string): void {
    this.making = this.making.then(() => this.makeNow(id)).catch(this.needs.report);
  }

  private async makeNow(id: string): Promise<void> {
    if (this.stopped.signal.aborted) return;
    const { database, store, folder, queue, recordings } = this.needs;
    const row = await this.entities.findOneBy({ id, state: 'making' });
    if (!row) return;
    const recording = await database.of(RecordingEntity).findOneBy({ id: row.recordingId });
    if (!recording || recording.removedAt) return this.change(id, { state: 'failed', note: 'The recording is gone.' });
    const before = row.chainId === null ? undefined : recording.frozen[row.chainId];
    // behind the last step stands what came of it: that is made anew
    const isUsed = (stepsBehind(row.steps, before)?.length ?? 0) > 0;
    const { sha256, steps, frozen } = beginOf(recording.sha256, row.steps, isUsed ? before : undefined);
    const byHand = byHandOf(markedOf(recording), await recordings.pickUpsOf(recording.cuts), store);
    const spoolFolder = await store.spoolFolder();
    try {
      const end = await queue.run(
        {
          type: 'write-out',
          path: store.pathOf(sha256),
          name: recording.name,
          steps,
          byHand: { ...byHand, ...(frozen && { frozen: { timeMap: frozen.timeMap } }) },
          outputPath: folder.partOf(row.fileName),
          spoolFolder,
        },
        { wanted: this.stopped.signal, stops: true },
      );
      if (end.type === 'written-out') {
        const { lies, timeMap } = end;
        await folder.layOut(row.fileName, await this.about(row, recording, lies));
        return await this.change(id, { state: 'out', lies, timeMap });
      }
      if (end.type === 'failed') await this.change(id, { state: 'failed', note: end.error.message });
    } catch (error) {
      await this.change(id, { state: 'failed', note: (error as Error).message });
    } finally {
      await store.discard(spoolFolder);
    }
  }

  /** What lies beside the sound. */
  private async about(
    row: OutingEntity,
    recording: RecordingEntity,
    lies: NonNullable<OutingEntity['lies']>,
  ): Promise<OutsideFile> {
    const { database, folder } = this.needs;
    const title = await database.of(TitleEntity).findOneBy({ id: row.titleId });
    const chain = row.chainId && (await database.of(ChainEntity).findOneBy({ id: row.chainId }));
    const { sampleRateHz, channels, frames } = lies;
    return {
      format: 'tonos.outside/1',
      id: row.id,
      file: row.fileName,
      back: join(folder.back, row.fileName),
      title: title?.name ?? '',
      recording: recording.givenName || recording.name,
      place: chain ? { chain: chain.name, after: row.stepTitle!, stepId: row.stepId! } : 'before the chain',
      ...{ sampleRateHz, channels, frames },
    };
  }

  private look(): Promise<void> {
    this.looking = this.looking.then(() => this.lookOnce()).catch(this.needs.report);
    return this.looking;
  }

  private async lookOnce(): Promise<void> {
    const { folder, bus } = this.needs;
    if (this.stopped.signal.aborted || !(await folder.isThere())) return;
    const rows = await this.entities.findBy({ state: In(['out', 'refused', 'back']) });
    const byName = new Map(rows.map((row) => [row.fileName, row]));
    const { arrived, coming, strangers } = await folder.look((name) => byName.get(name)?.stamp);
    const before = this.coming;
    this.coming = new Set(coming.map((name) => byName.get(name)!.id));
    this.strangers = strangers;
    for (const { id, titleId } of rows)
      if (before.has(id) !== this.coming.has(id)) bus.publish({ type: 'outing', titleId });
    for (const one of arrived) await this.takeIn(byName.get(one.name)!, one);
  }

  private async takeIn(row: OutingEntity, { path, name, stamp }: Arrived): Promise<void> {
    const { store, queue, surroundings } = this.needs;
    const outputPath = store.temporaryPath();
    const rateHz = row.chainId === null ? undefined : row.lies!.sampleRateHz;
    try {
      const end = await queue.run(
        { type: 'take-back', path, name, rateHz, outputPath },
        { wanted: this.stopped.signal },
      );
      if (end.type === 'failed')
        return await this.change(row.id, {
          state: 'refused',
          // which file it is stands beside it
          note: end.error.message.replace(name, 'it'),
          stamp,
        });
      if (end.type !== 'taken-back') return;
      const blob = end.isRewritten ? await store.adopt(outputPath) : await store.receive(createReadStream(path));
      if (blob.sha256 === row.backSha256 && row.state === 'back') {
        store.recorded([blob.sha256]);
        return await this.change(row.id, { stamp });
      }
      const note = differences(row.lies!, end);
      const where = await (row.chainId === null
        ? this.asTake(row, blob, end.lies)
        : this.asFrozen(row, blob.sha256, end.lies));
      store.recorded([blob.sha256]);
      if (where === undefined)
        return await this.change(row.id, { state: 'refused', note: 'The recording is gone.', stamp });
      const backAt = surroundings.now();
      const laid = { state: 'back' as const, note, stamp, backAt, backSha256: blob.sha256 };
      await this.change(row.id, { ...laid, ...where });
    } finally {
      await store.discard(outputPath);
    }
  }

  /** Before the chain: a take of the recording. What was marked in it holds where it is as long. */
  private async asTake(
    row: OutingEntity,
    blob: { sha256: string; sizeBytes: number },
    lies: NonNullable<OutingEntity['lies']>,
  ): Promise<Partial<OutingEntity> | undefined> {
    const { database, recordings, nudge } = this.needs;
    const current = await database.transaction((manager) => currentTake(manager, row.recordingId));
    if (!current || current.removedAt) return undefined;
    const isSame = lies.frames === row.lies!.frames && lies.sampleRateHz === row.lies!.sampleRateHz;
    const name = `${current.name.replace(/( \(from outside\))?\.[^.]*$/, '')} (from outside).wav`;
    await recordings.add(row.titleId, [{ ...blob, name }], current.id, async (manager, [added]) => {
      if (!isSame) return;
      const { marks, boxes, cuts, roomToneChoice } = current;
      await manager.update(RecordingEntity, { id: added.id }, { marks, boxes, cuts, roomToneChoice });
    });
    nudge();
    return { takeBefore: current.id };
  }

  /** Behind a step: what the steps behind it use, for this recording alone. */
  private async asFrozen(
    row: OutingEntity,
    sha256: string,
    lies: NonNullable<OutingEntity['lies']>,
  ): Promise<Partial<OutingEntity> | undefined> {
    const { database, surroundings } = this.needs;
    const { frames, sampleRateHz } = row.lies!;
    const frozen: FrozenSound = {
      stepId: row.stepId!,
      name: row.fileName,
      sha256,
      timeMap: [...mapOfReturn(row.timeMap!, frames / sampleRateHz, lies.frames / lies.sampleRateHz)].map(([a, b]) => [
        a,
        b,
      ]),
      basis: row.basis,
      at: surroundings.now(),
    };
    const recordingId = await database.transaction(async (manager) => {
      const current = await currentTake(manager, row.recordingId);
      if (!current || current.removedAt) return undefined;
      const all = { ...current.frozen, [row.chainId!]: frozen };
      await manager.update(RecordingEntity, { id: current.id }, { frozen: all, version: current.version + 1 });
      return current.id;
    });
    if (recordingId === undefined) return undefined;
    await this.tellRecording(recordingId);
    return {};
  }

  private async tellRecording(id: string): Promise<void> {
    this.needs.bus.publish({ type: 'recording', recording: await this.needs.recordings.get(id) });
  }

  private async change(id: string, change: Partial<OutingEntity>): Promise<void> {
    const { database, bus } = this.needs;
    await database.transaction((manager) => updateRows(manager, OutingEntity, { id }, change));
    const row = await this.entities.findOneBy({ id });
    if (row) bus.publish({ type: 'outing', titleId: row.titleId });
  }

  private async told(ids: readonly string[]): Promise<Outing[]> {
    const rows = await this.entities.find({ where: { id: In([...ids]) }, order: { fileName: 'ASC' } });
    for (const titleId of new Set(rows.map((row) => row.titleId))) this.needs.bus.publish({ type: 'outing', titleId });
    return this.needs.database.transaction((manager) => this.describe(manager, rows));
  }

  private async describe(manager: EntityManager, rows: readonly OutingEntity[]): Promise<Outing[]> {
    const chainIds = rows.flatMap(({ chainId }) => chainId ?? []);
    const chains = new Map<string, { name: string; states: ChainStep[][] }>();
    for (const chain of await manager.findBy(ChainEntity, { id: In(chainIds) }))
      chains.set(chain.id, { name: chain.name, states: await stepsOfChain(manager, chain) });
    const sent = await manager.findBy(RecordingEntity, { id: In(rows.map(({ recordingId }) => recordingId)) });
    const takes = await manager.findBy(RecordingEntity, {
      takeOf: In(sent.map(({ takeOf }) => takeOf)),
      superseded: false,
    });
    return rows.map((row): Outing => {
      const recording = sent.find(({ id }) => id === row.recordingId);
      const current = takes.find(({ takeOf }) => takeOf === recording?.takeOf);
      const { chainId, stepId } = row;
      const chain = chainId === null ? undefined : chains.get(chainId);
      const laidIn =
        chainId === null
          ? row.takeBefore !== null && current?.sha256 === row.backSha256
          : row.backSha256 !== null && current?.frozen[chainId]?.sha256 === row.backSha256;
      return {
        ...{ id: row.id, recordingId: current?.id ?? row.recordingId, titleId: row.titleId, chainId, stepId },
        recordingName: recording ? recording.givenName || recording.name : '',
        chainName: chain?.name ?? null,
        stepTitle: row.stepTitle,
        fileName: row.fileName,
        state: this.coming.has(row.id) ? 'coming' : row.state,
        note: row.note,
        seconds: row.lies && row.lies.frames / row.lies.sampleRateHz,
        sampleRateHz: row.lies?.sampleRateHz ?? null,
        channels: row.lies?.channels ?? null,
        ...{ createdAt: row.createdAt, backAt: row.backAt, laidIn },
        // a take that came in its place is what it came back as
        isOlder: chainId !== null && current !== undefined && !isOfNow(row, current, chain?.states ?? []),
      };
    });
  }

  private async find(id: string): Promise<OutingEntity> {
    const row = await this.entities.findOneBy({ id });
    if (!row) throw notFound('sound that went out', id);
    return row;
  }

  private get entities() {
    return this.needs.database.of(OutingEntity);
  }
}

/** Lets so many bytes through. */
const noMoreThan = (bytes: number, name: string) =>
  async function* (chunks: AsyncIterable<Buffer>) {
    let came = 0;
    for await (const chunk of chunks) {
      came += chunk.length;
      if (came > bytes) throw new HttpProblem(413, 'too-large', `${name} is larger than this server takes.`);
      yield chunk;
    }
  };

/** A chain's steps: as who asks works on them, and as they stand. */
async function stepsOfChain(manager: EntityManager, { id, revision }: ChainEntity): Promise<ChainStep[][]> {
  const draft = await manager.findOneBy(DraftEntity, { thing: 'chain', thingId: id, personId: caller().personId });
  const kept = await manager.findOneBy(ChainRevisionEntity, { chainId: id, revision });
  const own = (draft?.content as { steps?: ChainStep[] } | null)?.steps;
  return [...(own ? [own] : []), ...(kept ? [kept.file.steps] : [])];
}

/** Whether what went out is still what the steps make of the recording, in one of the chain's states. */
const isOfNow = (row: OutingEntity, recording: RecordingEntity, states: readonly ChainStep[][]): boolean =>
  states.some((steps) => {
    const own = stepsUpTo(steps, recording, row.chainId!, row.stepId!);
    return own !== undefined && basisOf(recording, row.chainId, own) === row.basis;
  });

/** The take that stands in the place of one. */
async function currentTake(manager: EntityManager, recordingId: string): Promise<RecordingEntity | null> {
  const sent = await manager.findOneBy(RecordingEntity, { id: recordingId });
  return sent && manager.findOneBy(RecordingEntity, { takeOf: sent.takeOf, superseded: false });
}

const nameOf = ({ givenName, name }: RecordingEntity, stepTitle: string | null, id: string): string => {
  const base = safeName(givenName || name.replace(/\.[^.]*$/, '')).slice(0, 120);
  return `${base}, ${stepTitle ? `after ${safeName(stepTitle)}` : 'as it came'} ${id.slice(0, 6)}.wav`;
};

/** What is other about what came back; empty where nothing is. */
function differences(
  out: NonNullable<OutingEntity['lies']>,
  { lies, cameAtHz }: { lies: NonNullable<OutingEntity['lies']>; cameAtHz: number },
): string {
  const longer = lies.frames / lies.sampleRateHz - out.frames / out.sampleRateHz;
  const isOtherLength = Math.abs(longer) * out.sampleRateHz > 1;
  return [
    ...(cameAtHz !== out.sampleRateHz
      ? [`came at ${cameAtHz} Hz${lies.sampleRateHz === cameAtHz ? '' : `, brought to ${lies.sampleRateHz} Hz`}`]
      : []),
    ...(isOtherLength ? [`${signedFigure(longer, 3)} s in length`] : []),
    ...(lies.channels !== out.channels
      ? [`${lies.channels} ${lies.channels === 1 ? 'channel' : 'channels'} instead of ${out.channels}`]
      : []),
  ].join('; ');
}

const notReady = ({ name }: RecordingEntity) =>
  new HttpProblem(409, 'not-readable', `${name} can\u2019t be sent out: it is still being measured, or is no sound.`);
const notLaidIn = ({ fileName }: OutingEntity) =>
  new HttpProblem(409, 'not-laid-in', `${fileName} does not stand in its place: there is nothing to take out.`);
