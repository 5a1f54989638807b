import type { Outing } from '@tonos/contract';
import type { ChainStep } from '@tonos/core';
import { type EntityManager, In } from 'typeorm';
import { ChainEntity, ChainRevisionEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import { updateRows } from '../database/rows.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller } from '../http/caller.ts';
import { notFound } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { DraftEntity } from '../revisions/draft-entity.ts';
import { basisOf, stepsUpTo } from './basis.ts';
import { OutingEntity } from './outing-entity.ts';

/** What went out, row by row: found, changed, told. */
export class OutingRows {
  /** Those that are being written back just now. */
  coming: ReadonlySet<string> = new Set();

  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
  ) {}

  /** @throws HttpProblem 404 */
  async find(id: string): Promise<OutingEntity> {
    const row = await this.entities.findOneBy({ id });
    if (!row) throw notFound('sound that went out', id);
    return row;
  }

  async change(id: string, change: Partial<OutingEntity>): Promise<void> {
    await this.database.transaction((manager) => updateRows(manager, OutingEntity, { id }, change));
    const row = await this.entities.findOneBy({ id });
    if (row) this.bus.publish({ type: 'outing', titleId: row.titleId });
  }

  /** As others see them, and everybody hears of them. */
  async told(ids: readonly string[]): Promise<Outing[]> {
    const rows = await this.entities.find({ where: { id: In([...ids]) }, order: { fileName: 'ASC' } });
    for (const titleId of new Set(rows.map((row) => row.titleId))) this.bus.publish({ type: 'outing', titleId });
    return this.database.transaction((manager) => this.describe(manager, rows));
  }

  async describe(manager: EntityManager, rows: readonly OutingEntity[]): Promise<Outing[]> {
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

  get entities() {
    return this.database.of(OutingEntity);
  }
}

/** A chain's steps: as who asks works on them, and as they stand. */
export async function stepsOfChain(manager: EntityManager, { id, revision }: ChainEntity): Promise<ChainStep[][]> {
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
export async function currentTake(manager: EntityManager, recordingId: string): Promise<RecordingEntity | null> {
  const sent = await manager.findOneBy(RecordingEntity, { id: recordingId });
  return sent && manager.findOneBy(RecordingEntity, { takeOf: sent.takeOf, superseded: false });
}
