import { type IndexPlace, indexLetter, ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import type { Database } from '../database/database.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import { serve } from '../http/serve.ts';
import type { Surroundings } from '../surroundings.ts';
import { IndexPlaceEntity } from './index-place-entity.ts';

/** The places that everybody shares; personal ones stay in the browser that made them. */
export function thumbIndexRoutes(router: Router, database: Database, { now }: Surroundings): void {
  serve(router, ROUTES.indexPlaces, async () =>
    (await database.of(IndexPlaceEntity).find({ order: { letter: 'ASC' } })).map(describe),
  );
  serve(router, ROUTES.setIndexPlace, async ({ params, body }) =>
    database.transaction(async (manager) =>
      describe(await manager.save(IndexPlaceEntity, { letter: letterOf(params.letter), ...body, changedAt: now() })),
    ),
  );
  serve(router, ROUTES.removeIndexPlace, async ({ params }) => {
    const letter = letterOf(params.letter);
    const { affected } = await database.transaction((manager) => manager.delete(IndexPlaceEntity, { letter }));
    if (!affected) throw notFound('place in the index', params.letter);
    return undefined;
  });
}

function letterOf(text: string): string {
  const letter = indexLetter.safeParse(text);
  if (!letter.success) throw new HttpProblem(422, 'invalid', `“${text}” is no letter from a to z.`);
  return letter.data;
}

const describe = ({ letter, name, content }: IndexPlaceEntity): IndexPlace => ({ letter, name, content });
