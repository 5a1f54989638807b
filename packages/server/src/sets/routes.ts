import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { goneSignal } from '../http/send-lines.ts';
import { serve } from '../http/serve.ts';
import type { SetService } from './set-service.ts';

export function setRoutes(router: Router, sets: SetService): void {
  serve(router, ROUTES.sets, ({ params }) => sets.listOf(params.id));
  serve(router, ROUTES.makeSet, ({ params, body, response }) => sets.make(params.id, body, goneSignal(response)));
  serve(router, ROUTES.changeSet, ({ params, body }) => sets.change(params.id, body));
  serve(router, ROUTES.removeSet, ({ params }) => sets.remove(params.id));
}
