import { ROUTES } from '@tonos/contract';
import { type Calls, serve } from '../http/serve.ts';
import type { ThumbIndex } from './thumb-index.ts';

export function thumbIndexRoutes(calls: Calls, index: ThumbIndex): void {
  serve(calls, ROUTES.indexPlaces, () => index.list());
  serve(calls, ROUTES.setIndexPlace, ({ params, body }) => index.put(params.letter, body));
  serve(calls, ROUTES.removeIndexPlace, ({ params }) => index.clear(params.letter));
}
