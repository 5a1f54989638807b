import { ROUTES } from '@tonos/contract';
import express, { type Router } from 'express';
import { sendFile } from '../http/send-file.ts';
import { serve } from '../http/serve.ts';
import type { TitleService } from './title-service.ts';

const LARGEST_COVER = '2mb';

export function titleRoutes(router: Router, titles: TitleService): void {
  serve(router, ROUTES.titles, () => titles.list());
  serve(router, ROUTES.addTitle, ({ body }) => titles.add(body));
  serve(router, ROUTES.title, ({ params }) => titles.get(params.id));
  serve(router, ROUTES.changeTitle, ({ params, body }) => titles.change(params.id, body));
  serve(router, ROUTES.cover, async ({ params, response }) => sendFile(response, await titles.cover(params.id)));
  router.put(ROUTES.setCover.path, express.raw({ type: () => true, limit: LARGEST_COVER }));
  serve(router, ROUTES.setCover, ({ params, request }) =>
    titles.setCover(params.id, Buffer.isBuffer(request.body) ? request.body : new Uint8Array()),
  );
  serve(router, ROUTES.removeCover, ({ params }) => titles.removeCover(params.id));
}
