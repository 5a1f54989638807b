import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import type { ThumbIndex } from './thumb-index.ts';

export function thumbIndexRoutes(router: Router, index: ThumbIndex): void {
  serve(router, ROUTES.indexPlaces, () => index.list());
  serve(router, ROUTES.setIndexPlace, ({ params, body }) => index.put(params.letter, body));
  serve(router, ROUTES.removeIndexPlace, ({ params }) => index.clear(params.letter));
}
