import { ROUTES } from '@tonos/contract';
import { type Calls, serve } from '../http/serve.ts';
import type { TargetService } from './target-service.ts';

export function targetRoutes(calls: Calls, targets: TargetService): void {
  serve(calls, ROUTES.targets, () => targets.list());
  serve(calls, ROUTES.addTarget, ({ body }) => targets.add(body));
  serve(calls, ROUTES.target, ({ params }) => targets.get(params.id));
  serve(calls, ROUTES.changeTarget, ({ params, body }) => targets.change(params.id, body));
  serve(calls, ROUTES.approveTarget, ({ params, body }) => targets.approve(params.id, body));
  serve(calls, ROUTES.withdrawTargetApproval, async ({ params }) => {
    await targets.approve(params.id, null);
    return undefined;
  });
}
