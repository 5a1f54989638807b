import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import type { TargetService } from './target-service.ts';

export function targetRoutes(router: Router, targets: TargetService): void {
  serve(router, ROUTES.targets, () => targets.list());
  serve(router, ROUTES.addTarget, ({ body }) => targets.add(body));
  serve(router, ROUTES.target, ({ params }) => targets.get(params.id));
  serve(router, ROUTES.changeTarget, ({ params, body }) => targets.change(params.id, body));
}
