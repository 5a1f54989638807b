import { type IndexPlace, indexLetter, ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import { serve } from '../http/serve.ts';
import type { Surroundings } from '../surroundings.ts';
import { IndexPlaceEntity } from './index-place-entity.ts';

/** The places that everybody shares; personal ones stay in the browser that made them. */
export function thumbIndexRoutes(router: Router, database: Database, bus: EventBus, { now }: Surroundings): void {
  serve(router, ROUTES.indexPlaces, async () =>
    (await database.of(IndexPlaceEntity).find({ order: { letter: 'ASC' } })).map(describe),
  );
  serve(router, ROUTES.setIndexPlace, async ({ params, body }) => {
    const letter = letterOf(params.letter);
    const place = { letter, ...body, changedAt: now() };
    await database.transaction((manager) => manager.save(IndexPlaceEntity, place));
    bus.publish({ type: 'index-place', letter });
    return describe(place);
  });
  serve(router, ROUTES.removeIndexPlace, async ({ params }) => {
    const letter = letterOf(params.letter);
    const { affected } = await database.transaction((manager) => manager.delete(IndexPlaceEntity, { letter }));
    if (!affected) throw notFound('place in the index', params.letter);
    bus.publish({ type: 'index-place', letter });
    return undefined;
  });
}

function letterOf(text: string): string {
  const letter = indexLetter.safeParse(text);
  if (!letter.success) throw new HttpProblem(422, 'invalid', `“${text}” is no letter from a to z.`);
  return letter.data;
}

const describe = ({ letter, name, content }: IndexPlaceEntity): IndexPlace => ({ letter, name, content });
