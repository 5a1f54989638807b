import { orderFile } from '@tonos/core';
import * as z from 'zod';
import { newApproval } from './approval.ts';
import {
  newOrderDraft,
  newOrderRevision,
  orderRevision,
  orderSummary,
  programmeQuestion,
  runningOrder,
} from './order.ts';
import { engineer, lead, listener } from './route.ts';

/** Running orders: their revisions, drafts and approvals. */
export const ORDER_ROUTES = {
  orders: listener.get('/api/titles/:id/orders', 'The running orders of a title.', { reply: z.array(orderSummary) }),
  addOrder: engineer.post('/api/titles/:id/orders', 'A new running order, from its file.', {
    body: orderFile,
    reply: runningOrder,
  }),
  order: listener.get('/api/orders/:id', 'One running order: its latest revision, its draft, its history.', {
    reply: runningOrder,
  }),
  removeOrder: engineer.remove('/api/orders/:id', 'Move a running order to the trash.'),
  orderRevision: listener.get('/api/orders/:id/revisions/:revision', 'One revision of a running order.', {
    reply: orderRevision,
  }),
  keepOrder: engineer.post('/api/orders/:id/revisions', 'Keep an order as a new revision; the draft ends.', {
    body: newOrderRevision,
    reply: runningOrder,
  }),
  saveOrderDraft: engineer.put('/api/orders/:id/draft', 'Save work in progress.', {
    body: newOrderDraft,
    reply: runningOrder,
  }),
  dropOrderDraft: engineer.remove('/api/orders/:id/draft', 'Give up work in progress.'),
  approveOrder: lead.post('/api/orders/:id/revisions/:revision/approval', 'Approve a revision of a running order.', {
    body: newApproval,
    reply: runningOrder,
  }),
  withdrawOrderApproval: lead.remove('/api/orders/:id/revisions/:revision/approval', 'Approve it no longer.'),
  orderLedger: listener.post(
    '/api/orders/:id/ledger',
    'What an order does to the levels of its parts, its groups and the whole: lines of JSON, the last one "done" or "failed".',
    { costly: true, body: programmeQuestion, streams: 'application/x-ndjson', status: 200 },
  ),
} as const;
