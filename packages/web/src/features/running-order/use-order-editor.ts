import { type NewOrderDraft, ROUTES, type RunningOrder } from '@tonos/contract';
import type { OrderFile } from '@tonos/core';
import { useMemo } from 'react';
import { useStore } from 'react-redux';
import { api } from '../../api/api.ts';
import { type RootState, useAppDispatch, useAppSelector } from '../../app/store.ts';
import { type DraftKeeping, useDraft } from '../../editing/use-draft.ts';
import { type EditedOrder, orderSlice } from './order-slice.ts';

const { opened, stored, rebased, yielded, insisted } = orderSlice.actions;

export interface OrderEditor extends DraftKeeping {
  edited?: EditedOrder;
}

/** The running order under work. */
export function useOrderEditor(running: RunningOrder | undefined): OrderEditor {
  const dispatch = useAppDispatch();
  const { getState } = useStore<RootState>();
  const orderId = running?.id ?? '';
  const edited = useAppSelector((state) => state.orders[orderId]);
  const [saveDraft] = api.useSaveOrderDraftMutation();
  const [dropDraft] = api.useDropOrderDraftMutation();
  const [keepOrder] = api.useKeepOrderMutation();
  const kept = useMemo(
    () =>
      running && {
        ...running,
        by: running.revisions[0].author,
        content: running.order,
        draft: running.draft && { ...running.draft, content: running.draft.order },
      },
    [running],
  );
  const keeping = useDraft<OrderFile>({
    what: 'running order',
    tag: 'Orders',
    kept,
    edited,
    present: () => getState().orders[orderId],
    on: {
      opened: ({ content: order, ...rest }) => dispatch(opened({ orderId, order, ...rest })),
      stored: (order, version) => dispatch(stored({ orderId, order, version })),
      rebased: ({ content: order, ...rest }) => dispatch(rebased({ orderId, order, ...rest })),
      yielded: ({ content: order, ...rest }) => dispatch(yielded({ orderId, order, ...rest })),
      insisted: (basedOn, version) => dispatch(insisted({ orderId, basedOn, version })),
    },
    calls: {
      draft: ROUTES.saveOrderDraft,
      body: ({ content: order, ...rest }) => ({ order, ...rest }),
      save: (id, version, draft) => saveDraft({ id, version, ...(draft as NewOrderDraft) }),
      drop: (id, version) => dropDraft({ id, version }),
      keep: (id, { content: order, ...rest }) => keepOrder({ id, order, ...rest }),
    },
  });
  return { edited, ...keeping };
}
