import type { NewRun } from '@tonos/contract';
import { type ChainFile, configureChain, type TargetFile } from '@tonos/core';
import { type EntityManager, In } from 'typeorm';
import { ChainEntity, ChainRevisionEntity } from '../chains/chain-entity.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { withMates } from '../sets/sets-of.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { unapprovedOf } from './approved.ts';
import { type Chapters, chaptersOf } from './chapters-of.ts';

export interface Ingredients {
  /** In the title's order. */
  recordings: RecordingEntity[];
  chain: ChainFile;
  revision: number;
  target: TargetFile;
  titleName: string;
  /** What of it is not approved, where the title asks for that. */
  unapproved: string[];
  chapters: Chapters;
}

/** Everything that a run is made of. Throws where something is not there, or can't be run. */
export async function gather(
  manager: EntityManager,
  { titleId, recordingIds, chainId, revision, targetId }: NewRun,
): Promise<Ingredients> {
  const title = checkThere('title', titleId, await manager.findOneBy(TitleEntity, { id: titleId }));
  const chain = checkThere('chain', chainId, await manager.findOneBy(ChainEntity, { id: chainId }));
  const kept = await manager.findOneBy(ChainRevisionEntity, { chainId, revision: revision ?? chain.revision });
  if (!kept) throw notFound(`revision ${revision} of the chain`, chainId);
  configureChain(kept.file.steps); // names an unknown kind, and what is out of range
  const { file: target, approval, shipped } = await standingTarget(manager, targetId);
  const unapproved = unapprovedOf(title, [
    { what: `revision ${kept.revision} of “${chain.name}”`, approval: kept.approval },
    ...(shipped ? [] : [{ what: `the target “${target.name}”`, approval }]),
  ]);
  // who is linked is run together
  const wanted = await withMates(manager, titleId, recordingIds);
  const recordings = await manager.findBy(RecordingEntity, { id: In(wanted) });
  const known = new Map(
    recordings
      .filter((recording) => recording.titleId === titleId && recording.trashedAt === null)
      .map((recording) => [recording.id, recording]),
  );
  const unknown = wanted.find((one) => !known.has(one));
  if (unknown) throw notFound('recording of this title', unknown);
  return {
    recordings: wanted.map((one) => known.get(one)!).sort((a, b) => a.position - b.position),
    chain: kept.file,
    revision: kept.revision,
    target,
    titleName: title.name,
    unapproved,
    chapters: await chaptersOf(manager, titleId),
  };
}

/** @throws HttpProblem 409 where there is a newer version */
export async function standingTarget(manager: EntityManager, targetId: string): Promise<TargetEntity> {
  const target = checkThere('target', targetId, await manager.findOneBy(TargetEntity, { id: targetId }));
  if (target.superseded) throw await superseded(manager, target);
  return target;
}

/** P6: nobody starts a run with what was changed since, without a word. */
async function superseded(manager: EntityManager, { name, version, createdAt }: TargetEntity): Promise<HttpProblem> {
  // all versions of a target were made when its first one was
  const now = await manager.findOneBy(TargetEntity, { createdAt, shipped: false, superseded: false });
  return new HttpProblem(
    409,
    'superseded-target',
    `“${name}” was changed since: this is its version ${version}${now ? `, and ${now.version} stands by now` : ''}. Load the page again, see what it asks, and start the run then.`,
    { targetId: now?.id ?? null },
  );
}
