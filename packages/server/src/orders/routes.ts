import { ROUTES, type RunningOrder } from '@tonos/contract';
import type { Response, Router } from 'express';
import { HttpProblem } from '../http/problems.ts';
import { serve } from '../http/serve.ts';
import { sayVersion, seenVersion } from '../http/version-header.ts';
import type { OrderService } from './order-service.ts';

export function orderRoutes(router: Router, orders: OrderService): void {
  const tagged = (response: Response, order: RunningOrder): RunningOrder => {
    sayVersion(response, order.version);
    return order;
  };
  serve(router, ROUTES.orders, ({ params }) => orders.listOf(params.id));
  serve(router, ROUTES.addOrder, ({ params, body }) => orders.add(params.id, body));
  serve(router, ROUTES.order, async ({ params, response }) => tagged(response, await orders.get(params.id)));
  serve(router, ROUTES.orderRevision, ({ params }) => {
    const number = Number(params.revision);
    if (!Number.isSafeInteger(number))
      throw new HttpProblem(404, 'not-found', `"${params.revision}" is no revision number.`);
    return orders.revision(params.id, number);
  });
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
