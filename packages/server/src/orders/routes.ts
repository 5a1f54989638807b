import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import { revisionNumber, sayVersion, seenVersion, tagged } from '../http/version-header.ts';
import type { OrderService } from './order-service.ts';

export function orderRoutes(router: Router, orders: OrderService): void {
  serve(router, ROUTES.orders, ({ params }) => orders.listOf(params.id));
  serve(router, ROUTES.addOrder, ({ params, body }) => orders.add(params.id, body));
  serve(router, ROUTES.order, async ({ params, response }) => tagged(response, await orders.get(params.id)));
  serve(router, ROUTES.orderRevision, ({ params }) => orders.revision(params.id, revisionNumber(params.revision)));
  serve(router, ROUTES.keepOrder, async ({ params, body, request, response }) =>
    tagged(response, await orders.keep(params.id, body, seenVersion(request))),
  );
  serve(router, ROUTES.saveOrderDraft, async ({ params, body, request, response }) =>
    tagged(response, await orders.saveDraft(params.id, body, seenVersion(request))),
  );
  serve(router, ROUTES.dropOrderDraft, async ({ params, request, response }) => {
    sayVersion(response, await orders.dropDraft(params.id, seenVersion(request)));
    return undefined;
  });
}
