import type { ItemRemedy, RemedyRequest } from '@tonos/contract';
import type { ChainStep, TargetFile } from '@tonos/core';
import { ChainRevisionEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { RunEntity, RunItemEntity } from './run-entity.ts';
import type { RunService } from './run-service.ts';

interface Needs {
  database: Database;
  runs: RunService;
  recordings: RecordingService;
  store: BlobStore;
  queue: OneAtATime;
}

/** What would bring the items of a run that are off target inside, found on the whole of each recording; applied where asked. */
export class RemedyService {
  constructor(private readonly needs: Needs) {}

  async find(runId: string, { itemIds, apply }: RemedyRequest, wanted: AbortSignal): Promise<ItemRemedy[]> {
    const { database, runs, recordings } = this.needs;
    const run = await database.of(RunEntity).findOneBy({ id: runId });
    if (!run) throw notFound('run', runId);
    const items = await database.of(RunItemEntity).find({ where: { runId }, order: { position: 'ASC' } });
    const unknown = itemIds?.find((id) => !items.some((item) => item.id === id));
    if (unknown) throw notFound('item of this run', unknown);
    const off = items.filter(({ id, status }) => status === 'off-target' && (!itemIds || itemIds.includes(id)));
    const settled = itemIds?.find((id) => !off.some((item) => item.id === id));
    if (settled)
      throw new HttpProblem(
        409,
        'not-off-target',
        'Only an item that is off target has a remedy; one of these is not.',
      );
    const { file } = await database
      .of(ChainRevisionEntity)
      .findOneByOrFail({ chainId: run.chainId, revision: run.revision });
    const target = await database.of(TargetEntity).findOneByOrFail({ id: run.targetId });
    const remedies: ItemRemedy[] = [];
    for (const item of off) remedies.push(await this.remedyOf(item, run.chainId, file.steps, target.file, wanted));
    if (apply && !wanted.aborted) {
      const helped = remedies.filter(({ adjustments }) => adjustments.length);
      for (const { itemId, adjustments } of helped) {
        const { recordingId } = items.find(({ id }) => id === itemId)!;
        await recordings.change({
          ids: [recordingId],
          adjust: { chainId: run.chainId, steps: adjustments, clear: [], replace: true },
        });
      }
      if (helped.length) await runs.retry(runId, { itemIds: helped.map(({ itemId }) => itemId) });
    }
    return remedies;
  }

  private async remedyOf(
    item: RunItemEntity,
    chainId: string,
    steps: readonly ChainStep[],
    target: TargetFile,
    wanted: AbortSignal,
  ): Promise<ItemRemedy> {
    const { database, store, queue } = this.needs;
    const recording = await database.of(RecordingEntity).findOneByOrFail({ id: item.recordingId });
    const { boxes, roomToneChoice: roomTone, marks, name } = recording;
    const present = { verdict: 'off-target' as const, limits: item.limits ?? [] };
    const nothing = (sentence: string): ItemRemedy => ({
      itemId: item.id,
      adjustments: [],
      forecast: present,
      sentence,
    });
    if (item.after?.rmsDbfs === null) return nothing('It is digital silence: nothing brings that inside.');
    const folder = await store.spoolFolder();
    try {
      const end = await queue.run(
        {
          type: 'remedy',
          path: store.pathOf(recording.sha256),
          name,
          steps,
          adjustments: recording.adjustments[chainId] ?? [],
          target,
          byHand: { boxes, roomTone, marks },
          folder,
        },
        { wanted, stops: true },
      );
      if (end.type === 'failed') return nothing(end.error.message);
      if (end.type !== 'remedied') return nothing('It was stopped before it was found.');
      return { itemId: item.id, ...end.remedy };
    } finally {
      await store.discard(folder);
    }
  }
}
