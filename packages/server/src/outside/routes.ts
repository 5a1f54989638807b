import { ROUTES } from '@tonos/contract';
import { sendFile } from '../http/send-file.ts';
import { type Calls, serve } from '../http/serve.ts';
import type { OutsideService } from './outside-service.ts';

export function outsideRoutes(calls: Calls, outside: OutsideService): void {
  serve(calls, ROUTES.outings, () => outside.list());
  serve(calls, ROUTES.sendOut, ({ body }) => outside.send(body));
  serve(calls, ROUTES.outingFile, async ({ params, response }) => sendFile(response, await outside.file(params.id)));
  // streamed: a long recording never lies in memory
  serve(calls, ROUTES.handInOuting, ({ params, request }) => outside.handIn(params.id, request));
  serve(calls, ROUTES.takeOutOuting, ({ params }) => outside.takeOut(params.id));
  serve(calls, ROUTES.forgetOuting, ({ params }) => outside.forget(params.id));
}
