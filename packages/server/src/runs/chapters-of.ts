import { type EntityManager, IsNull } from 'typeorm';
import { RecordingEntity } from '../recordings/recording-entity.ts';

/** The chapters of a title: music and sounds are none. */
export interface Chapters {
  count: number;
  /** The track that a recording is: its place, without the music and the sounds before it. */
  trackOf(recording: Pick<RecordingEntity, 'position'>): number;
}

export async function chaptersOf(manager: EntityManager, titleId: string): Promise<Chapters> {
  const count = await manager.countBy(RecordingEntity, {
    titleId,
    superseded: false,
    trashedAt: IsNull(),
    kind: 'voice',
  });
  const others = await manager.find(RecordingEntity, {
    where: [
      { titleId, superseded: false, kind: 'music' },
      { titleId, superseded: false, kind: 'sound' },
    ],
    select: { id: true, position: true },
  });
  return {
    count,
    trackOf: ({ position }) => position - others.filter((one) => one.position < position).length,
  };
}
