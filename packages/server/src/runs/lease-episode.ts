import type { RecipeInput } from '@tonos/contract';
import type { OrderFile } from '@tonos/core';
import { type EntityManager, In } from 'typeorm';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { deliveredSounds } from './delivered-sounds.ts';
import { bodyOf } from './order-ingredients.ts';
import { partInput } from './order-parts.ts';
import { recipeOf } from './recipe.ts';
import { recipeSetting } from './recipe-setting.ts';
import { RunEntity, type RunItemEntity } from './run-entity.ts';

/** What one programme of a running order is put together from, or the recording that it can't be put together without. */
export async function episodeRecipe(
  manager: EntityManager,
  run: RunEntity,
  { fill }: RunItemEntity,
  version: string,
): Promise<{ recipe: RecipeInput } | { unreadable: RecordingEntity } | { gone: string }> {
  const { order } = await manager.findOneOrFail(RunEntity, {
    where: { id: run.id },
    select: { id: true, order: true },
  });
  const { file, recordings: chosen } = order!;
  const idOf = ({ id, source }: OrderFile['parts'][number]) =>
    'place' in source ? (fill?.[source.place] ?? '') : chosen[id];
  const ids = [...new Set(file.parts.map(idOf))];
  const found = await manager.findBy(RecordingEntity, { id: In(ids) });
  const known = new Map(found.map((recording) => [recording.id, recording]));
  const delivered = ids.filter((id) => !known.has(id));
  for (const [id, sound] of await deliveredSounds(manager, delivered)) known.set(id, sound);
  const parts: NonNullable<RecipeInput['order']>['parts'] = {};
  for (const part of file.parts) {
    const recording = known.get(idOf(part));
    if (!recording || recording.removedAt !== null) return { gone: recording?.name ?? part.id };
    if (recording.status === 'unreadable') return { unreadable: recording };
    parts[part.id] = await partInput(manager, recording);
  }
  const body = known.get(idOf(bodyOf(file)))!;
  // the title tells of the recording, whether it or its delivery was put in
  const told = await manager.findOneByOrFail(RecordingEntity, { id: body.id });
  const whole = file.chain && typeof file.chain !== 'string' ? file.chain : undefined;
  const recipe = recipeOf({
    ...(await recipeSetting(manager, run, told)),
    version,
    pickUps: {},
    chain: { format: 'tonos.chain/1', tags: [], notes: '', steps: whole?.steps ?? [], name: file.name },
    chainId: '',
  });
  return { recipe: { ...recipe, order: { file, parts } } };
}
