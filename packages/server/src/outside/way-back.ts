import { createReadStream } from 'node:fs';
import type { FrozenSound, Outing } from '@tonos/contract';
import { signedFigure } from '@tonos/core';
import { mapOfReturn } from '@tonos/render';
import { In } from 'typeorm';
import { updateRows } from '../database/rows.ts';
import { HttpProblem } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { Arrived } from './exchange-folder.ts';
import { OutingEntity } from './outing-entity.ts';
import { currentTake, type OutingRows } from './outing-rows.ts';
import type { OutsideNeeds } from './outside-service.ts';

/** The way back: what is written into the folder is looked at, and laid in where it came from. */
export class WayBack {
  strangers: readonly string[] = [];
  private looking: Promise<void> = Promise.resolve();

  constructor(
    private readonly needs: OutsideNeeds,
    private readonly rows: OutingRows,
    private readonly stopped: AbortSignal,
  ) {}

  /** Resolves once nothing is under way. */
  settled(): Promise<void> {
    return this.looking;
  }

  /** One look; never two at once. */
  look(): Promise<void> {
    this.looking = this.looking.then(() => this.lookOnce()).catch(this.needs.report);
    return this.looking;
  }

  private async lookOnce(): Promise<void> {
    const { folder, bus } = this.needs;
    if (this.stopped.aborted || !(await folder.isThere())) return;
    const rows = await this.rows.entities.findBy({ state: In(['out', 'refused', 'back']) });
    const byName = new Map(rows.map((row) => [row.fileName, row]));
    const { arrived, coming, strangers } = await folder.look((name) => byName.get(name)?.stamp);
    const before = this.rows.coming;
    this.rows.coming = new Set(coming.map((name) => byName.get(name)!.id));
    this.strangers = strangers;
    for (const { id, titleId } of rows)
      if (before.has(id) !== this.rows.coming.has(id)) bus.publish({ type: 'outing', titleId });
    for (const one of arrived) await this.takeIn(byName.get(one.name)!, one);
  }

  /** What stands in its place is what stood there before. */
  async takeOut(id: string): Promise<Outing> {
    const { database, recordings } = this.needs;
    const row = await this.rows.find(id);
    if (row.chainId === null) {
      if (!row.takeBefore) throw notLaidIn(row);
      await recordings.use(row.takeBefore);
      await this.rows.change(id, { takeBefore: null });
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
    const [told] = await this.rows.told([id]);
    return told;
  }

  private async takeIn(row: OutingEntity, { path, name, stamp }: Arrived): Promise<void> {
    const { store, queue, surroundings } = this.needs;
    const outputPath = store.temporaryPath();
    const rateHz = row.chainId === null ? undefined : row.lies!.sampleRateHz;
    try {
      const end = await queue.run({ type: 'take-back', path, name, rateHz, outputPath }, { wanted: this.stopped });
      if (end.type === 'failed')
        return await this.rows.change(row.id, {
          state: 'refused',
          // which file it is stands beside it
          note: end.error.message.replace(name, 'it'),
          stamp,
        });
      if (end.type !== 'taken-back') return;
      const blob = end.isRewritten ? await store.adopt(outputPath) : await store.receive(createReadStream(path));
      if (blob.sha256 === row.backSha256 && row.state === 'back') {
        store.recorded([blob.sha256]);
        return await this.rows.change(row.id, { stamp });
      }
      const laid: Partial<OutingEntity> = {
        state: 'back',
        note: differences(row.lies!, end),
        stamp,
        backAt: surroundings.now(),
        backSha256: blob.sha256,
      };
      const isIn = await (row.chainId === null
        ? this.asTake(row, blob, end.lies, laid)
        : this.asFrozen(row, blob.sha256, end.lies, laid));
      store.recorded([blob.sha256]);
      if (isIn) this.needs.bus.publish({ type: 'outing', titleId: row.titleId });
      else await this.rows.change(row.id, { state: 'refused', note: 'The recording is gone.', stamp });
    } finally {
      await store.discard(outputPath);
    }
  }

  /** Before the chain: a take of the recording. What was marked in it holds where it is as long. */
  private async asTake(
    row: OutingEntity,
    blob: { sha256: string; sizeBytes: number },
    lies: NonNullable<OutingEntity['lies']>,
    laid: Partial<OutingEntity>,
  ): Promise<boolean> {
    const { database, recordings, nudge } = this.needs;
    const current = await database.transaction((manager) => currentTake(manager, row.recordingId));
    if (!current || current.removedAt) return false;
    const isSame = lies.frames === row.lies!.frames && lies.sampleRateHz === row.lies!.sampleRateHz;
    const name = `${current.name.replace(/( \(from outside\))?\.[^.]*$/, '')} (from outside).wav`;
    await recordings.add(row.titleId, [{ ...blob, name }], current.id, async (manager, [added]) => {
      // together with the take: after a crash in between it would come in twice
      await updateRows(manager, OutingEntity, { id: row.id }, { ...laid, takeBefore: current.id });
      if (!isSame) return;
      const { marks, boxes, cuts, roomToneChoice } = current;
      await manager.update(RecordingEntity, { id: added.id }, { marks, boxes, cuts, roomToneChoice });
    });
    nudge();
    return true;
  }

  /** Behind a step: what the steps behind it use, for this recording alone. */
  private async asFrozen(
    row: OutingEntity,
    sha256: string,
    lies: NonNullable<OutingEntity['lies']>,
    laid: Partial<OutingEntity>,
  ): Promise<boolean> {
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
      await updateRows(manager, OutingEntity, { id: row.id }, laid);
      return current.id;
    });
    if (recordingId === undefined) return false;
    await this.tellRecording(recordingId);
    return true;
  }

  private async tellRecording(id: string): Promise<void> {
    this.needs.bus.publish({ type: 'recording', recording: await this.needs.recordings.get(id) });
  }
}

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

const notLaidIn = ({ fileName }: OutingEntity) =>
  new HttpProblem(409, 'not-laid-in', `${fileName} does not stand in its place: there is nothing to take out.`);
