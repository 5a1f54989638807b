import { ROUTES } from '@tonos/contract';
import { goneSignal } from '../http/send-lines.ts';
import { type Calls, serve } from '../http/serve.ts';
import type { SetService } from './set-service.ts';

export function setRoutes(calls: Calls, sets: SetService): void {
  serve(calls, ROUTES.sets, ({ params }) => sets.listOf(params.id));
  serve(calls, ROUTES.makeSet, ({ params, body, response }) => sets.make(params.id, body, goneSignal(response)));
  serve(calls, ROUTES.changeSet, ({ params, body }) => sets.change(params.id, body));
  serve(calls, ROUTES.removeSet, ({ params }) => sets.remove(params.id));
}
