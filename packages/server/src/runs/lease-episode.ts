import type { RecipeInput } from '@tonos/contract';
import { type OrderFile, partName } from '@tonos/core';
import type { EntityManager } from 'typeorm';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { bodyOf } from './order-ingredients.ts';
import { partInput } from './order-parts.ts';
import { recordingsIn, soundsById } from './part-sounds.ts';
import { recipeOf } from './recipe.ts';
import { recipeSetting } from './recipe-setting.ts';
import { RunEntity, type RunItemEntity } from './run-entity.ts';

/** What one programme of a running order is put together from, or the recording that can't be read, or in a sentence what is not there any more. */
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
  const known = await soundsById(manager, [...new Set(file.parts.map(idOf))]);
  const parts: NonNullable<RecipeInput['order']>['parts'] = {};
  for (const part of file.parts) {
    const sound = known.get(idOf(part));
    if (!sound)
      return {
        gone: `What fills the part “${partName(part)}” is not there any more: it was removed, or is linked no longer.`,
      };
    if (sound.removedAt !== null)
      return { gone: `${sound.name} was removed for good: choose another recording for it.` };
    const unreadable = recordingsIn(sound).find(({ status }) => status === 'unreadable');
    if (unreadable) return { unreadable };
    parts[part.id] = await partInput(manager, sound);
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
