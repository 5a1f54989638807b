import { ROUTES } from '@tonos/contract';
import { type Calls, serve } from '../http/serve.ts';
import { revisionNumber, sayVersion, seenVersion, tagged } from '../http/version-header.ts';
import type { OrderService } from './order-service.ts';

export function orderRoutes(calls: Calls, orders: OrderService): void {
  serve(calls, ROUTES.orders, ({ params }) => orders.listOf(params.id));
  serve(calls, ROUTES.addOrder, ({ params, body }) => orders.add(params.id, body));
  serve(calls, ROUTES.order, async ({ params, response }) => tagged(response, await orders.get(params.id)));
  serve(calls, ROUTES.orderRevision, ({ params }) => orders.revision(params.id, revisionNumber(params.revision)));
  serve(calls, ROUTES.keepOrder, async ({ params, body, request, response }) =>
    tagged(response, await orders.keep(params.id, body, seenVersion(request))),
  );
  serve(calls, ROUTES.saveOrderDraft, async ({ params, body, request, response }) =>
    tagged(response, await orders.saveDraft(params.id, body, seenVersion(request))),
  );
  serve(calls, ROUTES.approveOrder, ({ params, body }) =>
    orders.approve(params.id, revisionNumber(params.revision), body),
  );
  serve(calls, ROUTES.withdrawOrderApproval, async ({ params }) => {
    await orders.approve(params.id, revisionNumber(params.revision), null);
    return undefined;
  });
  serve(calls, ROUTES.dropOrderDraft, async ({ params, request, response }) => {
    sayVersion(response, await orders.dropDraft(params.id, seenVersion(request)));
    return undefined;
  });
}
