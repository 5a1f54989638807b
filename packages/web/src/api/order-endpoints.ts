import { type NewOrderDraft, type NewOrderRevision, ROUTES } from '@tonos/contract';
import type { OrderFile } from '@tonos/core';
import { ask, asSeen, type Build, byId, byRevision, bySentence, change, one } from './endpoint.ts';

/** Running orders: their revisions, drafts and approvals. */
export const orderEndpoints = (build: Build) => ({
  orders: ask(build, ROUTES.orders, byId, ['Orders']),
  approveOrder: change(build, ROUTES.approveOrder, bySentence, ['Orders']),
  withdrawOrderApproval: change(build, ROUTES.withdrawOrderApproval, byRevision, ['Orders']),
  order: ask(build, ROUTES.order, byId, one('Orders')),
  orderRevision: ask(build, ROUTES.orderRevision, byRevision),
  addOrder: change(
    build,
    ROUTES.addOrder,
    ({ titleId, order }: { titleId: string; order: OrderFile }) => ({ ...byId(titleId), body: order }),
    ['Orders'],
  ),
  keepOrder: change(build, ROUTES.keepOrder, asSeen<NewOrderRevision>, ['Orders', 'Standing']),
  saveOrderDraft: change(build, ROUTES.saveOrderDraft, asSeen<NewOrderDraft>),
  dropOrderDraft: change(
    build,
    ROUTES.dropOrderDraft,
    ({ id, version }: { id: string; version: number }) => ({ ...byId(id), seen: version }),
    ['Orders'],
  ),
});
