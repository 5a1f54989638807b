import type { OrderFile, OrderPart } from '@tonos/core';
import { useAppDispatch } from '../../app/store.ts';
import { useLatest } from '../../ui/use-latest.ts';
import { movedPart, shiftedBegin, withNewPart, withoutPart, withPart } from './edit-order.ts';
import { orderSlice } from './order-slice.ts';

const { edited: changed, undone, redone } = orderSlice.actions;

/** What one does to an order. Each keeps its identity: what hangs on it is drawn again only where something else has changed. */
export function useOrderActs(
  orderId: string,
  order: OrderFile,
  chosen: string | null,
  choose: (id: string | null) => void,
) {
  const dispatch = useAppDispatch();
  const part = order.parts.find(({ id }) => id === chosen);
  const put = useLatest((next: OrderFile, touched: string | null) =>
    dispatch(changed({ orderId, order: next, touched })),
  );
  const changeGroups = useLatest((make: (order: OrderFile) => OrderFile, touched: string | null) =>
    put(make(order), touched),
  );
  const changePart = useLatest((id: string, change: Partial<OrderPart>, touched: string) => {
    put(withPart(order, id, change), `${id}/${touched}`);
  });
  const changeChosen = useLatest(
    (change: Partial<OrderPart>, touched: string) => part && changePart(part.id, change, touched),
  );
  const shift = useLatest((id: string, by: number) => {
    const begins = shiftedBegin(order.parts.find((one) => one.id === id)!, by);
    if (begins) changePart(id, { begins }, 'begins');
  });
  const add = useLatest(() => {
    const made = withNewPart(order, chosen);
    put(made.order, null);
    choose(made.id);
  });
  const remove = useLatest(() => {
    if (!part) return;
    const at = order.parts.indexOf(part);
    put(withoutPart(order, part.id), null);
    choose((order.parts[at + 1] ?? order.parts[at - 1])?.id ?? null);
  });
  const move = useLatest((by: number) => {
    if (part) put(movedPart(order, part.id, by), null);
  });
  const undo = () => dispatch(undone({ orderId }));
  const redo = () => dispatch(redone({ orderId }));
  return { put, changeGroups, changePart, changeChosen, shift, add, remove, move, undo, redo };
}
