import { type EntityManager, Not } from 'typeorm';
import { RecordingEntity } from '../recordings/recording-entity.ts';

/** The track of each recording of a title: its place, without the music and the sounds before it, which are no chapters. */
export async function tracksOf(
  manager: EntityManager,
  titleId: string,
): Promise<(recording: Pick<RecordingEntity, 'position'>) => number> {
  const others = await manager.find(RecordingEntity, {
    where: { titleId, superseded: false, kind: Not('voice') },
    select: { id: true, position: true },
  });
  return ({ position }) => position - others.filter((one) => one.position < position).length;
}
