import { type IndexPlace, indexLetter, type NewIndexPlace } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import type { Surroundings } from '../surroundings.ts';
import { IndexPlaceEntity } from './index-place-entity.ts';

/** The places that everybody shares; personal ones stay in the browser that made them. */
export class ThumbIndex {
  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  async list(): Promise<IndexPlace[]> {
    return (await this.database.of(IndexPlaceEntity).find({ order: { letter: 'ASC' } })).map(describe);
  }

  /** What was at the letter makes room. */
  async put(text: string, given: NewIndexPlace): Promise<IndexPlace> {
    const letter = letterOf(text);
    const place = { letter, ...given, changedAt: this.surroundings.now() };
    await this.database.transaction((manager) => manager.save(IndexPlaceEntity, place));
    this.bus.publish({ type: 'index-place', letter });
    return describe(place);
  }

  async clear(text: string): Promise<undefined> {
    const letter = letterOf(text);
    const { affected } = await this.database.transaction((manager) => manager.delete(IndexPlaceEntity, { letter }));
    if (!affected) throw notFound('place in the index', letter);
    this.bus.publish({ type: 'index-place', letter });
  }
}

function letterOf(text: string): string {
  const letter = indexLetter.safeParse(text);
  if (!letter.success) throw new HttpProblem(422, 'invalid', `“${text}” is no letter from a to z.`);
  return letter.data;
}

const describe = ({ letter, name, content }: IndexPlaceEntity): IndexPlace => ({ letter, name, content });
