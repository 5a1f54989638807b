import type { EntityManager } from 'typeorm';
import { findRowOrFail } from '../database/rows.ts';
import type { RecordingEntity } from '../recordings/recording-entity.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { chaptersOf } from './chapters-of.ts';
import type { RunEntity } from './run-entity.ts';

/** What a recipe says of the run, the title and the target, whatever is rendered. */
export async function recipeSetting(manager: EntityManager, run: RunEntity, recording: RecordingEntity) {
  const { file: target } = await findRowOrFail(manager, TargetEntity, { id: run.targetId });
  const title = await findRowOrFail(manager, TitleEntity, { id: run.titleId });
  const { count, trackOf } = await chaptersOf(manager, run.titleId);
  const { revision, createdAt: date } = run;
  return { recording, target, title, revision, date, track: trackOf(recording), trackTotal: count };
}
