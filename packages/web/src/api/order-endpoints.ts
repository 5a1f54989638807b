import { type NewOrderDraft, type NewOrderRevision, ROUTES } from '@tonos/contract';
import type { OrderFile } from '@tonos/core';
import { ask, type Build, byId, change, one } from './endpoint.ts';

/** Running orders: their revisions, drafts and approvals. */
export const orderEndpoints = (build: Build) => ({
  orders: ask(build, ROUTES.orders, byId, ['Orders']),
  approveOrder: change(
    build,
    ROUTES.approveOrder,
    ({ sentence, ...params }: { id: string; revision: number; sentence: string }) => ({ params, body: { sentence } }),
    ['Orders'],
  ),
  withdrawOrderApproval: change(
    build,
    ROUTES.withdrawOrderApproval,
    (params: { id: string; revision: number }) => ({ params }),
    ['Orders'],
  ),
  order: ask(build, ROUTES.order, byId, one('Orders')),
  orderRevision: ask(build, ROUTES.orderRevision, (params: { id: string; revision: number }) => ({ params })),
  addOrder: change(
    build,
    ROUTES.addOrder,
    ({ titleId, order }: { titleId: string; order: OrderFile }) => ({ ...byId(titleId), body: order }),
    ['Orders'],
  ),
  keepOrder: change(
    build,
    ROUTES.keepOrder,
    ({ id, version, ...body }: { id: string; version: number } & NewOrderRevision) => ({
      ...byId(id),
      seen: version,
      body,
    }),
    ['Orders', 'Standing'],
  ),
  saveOrderDraft: change(
    build,
    ROUTES.saveOrderDraft,
    ({ id, version, ...body }: { id: string; version: number } & NewOrderDraft) => ({
      ...byId(id),
      seen: version,
      body,
    }),
  ),
  dropOrderDraft: change(
    build,
    ROUTES.dropOrderDraft,
    ({ id, version }: { id: string; version: number }) => ({ ...byId(id), seen: version }),
    ['Orders'],
  ),
});
