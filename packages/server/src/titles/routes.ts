import { ROUTES } from '@tonos/contract';
import express from 'express';
import { sendFile } from '../http/send-file.ts';
import { type Calls, serve } from '../http/serve.ts';
import type { TitleService } from './title-service.ts';

const LARGEST_COVER = '2mb';

export function titleRoutes(calls: Calls, titles: TitleService): void {
  serve(calls, ROUTES.titles, () => titles.list());
  serve(calls, ROUTES.addTitle, ({ body }) => titles.add(body));
  serve(calls, ROUTES.title, ({ params }) => titles.get(params.id));
  serve(calls, ROUTES.changeTitle, ({ params, body }) => titles.change(params.id, body));
  serve(calls, ROUTES.cover, async ({ params, response }) => sendFile(response, await titles.cover(params.id)));
  serve(
    calls,
    ROUTES.setCover,
    ({ params, request }) =>
      titles.setCover(params.id, Buffer.isBuffer(request.body) ? request.body : new Uint8Array()),
    express.raw({ type: () => true, limit: LARGEST_COVER }),
  );
  serve(calls, ROUTES.removeCover, ({ params }) => titles.removeCover(params.id));
}
