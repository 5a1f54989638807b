import { join } from 'node:path';
import type { NewOuting, Outing, OutsideFile } from '@tonos/contract';
import { type ChainStep, configureChain, moduleOf, safeName, stepIds, stepOf } from '@tonos/core';
import type { EntityManager } from 'typeorm';
import { ChainEntity } from '../chains/chain-entity.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import { byHandOf, markedOf } from '../recordings/by-hand.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RecordingSetEntity } from '../sets/set-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { basisOf, beginOf, stepsBehind, stepsUpTo } from './basis.ts';
import { OutingEntity } from './outing-entity.ts';
import { type OutingRows, stepsOfChain } from './outing-rows.ts';
import type { OutsideNeeds } from './outside-service.ts';

type Place = Pick<OutingEntity, 'chainId' | 'stepId' | 'stepTitle'> & { steps: readonly ChainStep[] };
const BEFORE_ALL: Place = { chainId: null, stepId: null, stepTitle: null, steps: [] };

/** The way out: what is asked for becomes rows, and these become files, one after the other. */
export class WayOut {
  private making: Promise<void> = Promise.resolve();

  constructor(
    private readonly needs: OutsideNeeds,
    private readonly rows: OutingRows,
    private readonly stopped: AbortSignal,
  ) {}

  /** Goes on with what an earlier start left in the making. */
  async resume(): Promise<void> {
    for (const { id } of await this.rows.entities.findBy({ state: 'making' })) this.make(id);
  }

  /** Resolves once nothing is under way. */
  settled(): Promise<void> {
    return this.making;
  }

  /** Sends recordings out; each is written when its turn comes. @throws HttpProblem 404, 409, 422 */
  async send({ recordingIds, chainId, stepId }: NewOuting): Promise<Outing[]> {
    const { database, surroundings, folder } = this.needs;
    if (!(await folder.isThere())) throw new HttpProblem(409, 'no-exchange', folder.trouble!);
    const made = await database.transaction(async (manager) => {
      const place = chainId === null ? BEFORE_ALL : await this.placeOf(manager, chainId, stepId!);
      const all: OutingEntity[] = [];
      for (const id of new Set(recordingIds)) {
        const recording = checkThere('recording', id, await manager.findOneBy(RecordingEntity, { id }));
        if (recording.status !== 'ready') throw notReady(recording);
        if (chainId !== null) await this.checkAlone(manager, recording);
        const own = chainId === null ? [] : stepsUpTo(place.steps, recording, chainId, stepId!)!;
        configureChain(own.filter(({ on }) => on)); // names an unknown kind, and what is out of range
        const rowId = surroundings.newId();
        all.push({
          ...{ id: rowId, recordingId: id, titleId: recording.titleId },
          ...{ chainId, stepId, stepTitle: place.stepTitle, steps: own },
          fileName: nameOf(recording, place.stepTitle, rowId),
          ...{ state: 'making', note: '', lies: null, timeMap: null },
          basis: basisOf(recording, chainId, own),
          ...{ createdAt: surroundings.now(), backAt: null, backSha256: null, stamp: '', takeBefore: null },
        });
      }
      await manager.save(OutingEntity, all);
      return all;
    });
    for (const { id } of made) this.make(id);
    return this.rows.told(made.map(({ id }) => id));
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
    if (this.stopped.aborted) return;
    const { database, store, folder, queue, recordings } = this.needs;
    const row = await this.rows.entities.findOneBy({ id, state: 'making' });
    if (!row) return;
    const recording = await database.of(RecordingEntity).findOneBy({ id: row.recordingId });
    if (!recording || recording.removedAt)
      return this.rows.change(id, { state: 'failed', note: 'The recording is gone.' });
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
        { wanted: this.stopped, stops: true },
      );
      if (end.type === 'written-out') {
        const { lies, timeMap } = end;
        await folder.layOut(row.fileName, await this.about(row, recording, lies));
        return await this.rows.change(id, { state: 'out', lies, timeMap });
      }
      if (end.type === 'failed') await this.rows.change(id, { state: 'failed', note: end.error.message });
    } catch (error) {
      await this.rows.change(id, { state: 'failed', note: (error as Error).message });
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
}

const nameOf = ({ givenName, name }: RecordingEntity, stepTitle: string | null, id: string): string => {
  const base = safeName(givenName || name.replace(/\.[^.]*$/, '')).slice(0, 120);
  return `${base}, ${stepTitle ? `after ${safeName(stepTitle)}` : 'as it came'} ${id.slice(0, 6)}.wav`;
};

const notReady = ({ name }: RecordingEntity) =>
  new HttpProblem(409, 'not-readable', `${name} can\u2019t be sent out: it is still being measured, or is no sound.`);
