import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { OrderFile } from '@tonos/core';
import { begun, change, type Edited, redo, undo } from '../../editing/history.ts';

export type EditedOrder = Edited<OrderFile>;

interface Standing {
  order: OrderFile;
  basedOn: number;
  version: number;
}

type On<T> = PayloadAction<{ orderId: string } & T>;

/** Running orders as they are being edited, by id, each with its own undo. */
export const orderSlice = createSlice({
  name: 'orders',
  initialState: {} as Record<string, EditedOrder>,
  reducers: {
    opened: (state, { payload: { orderId, order, basedOn, version } }: On<Standing>) => {
      state[orderId] = begun(order, basedOn, version);
    },
    /** The server holds what was sent. */
    stored: (state, { payload: { orderId, order, version } }: On<{ order: OrderFile; version: number }>) => {
      if (state[orderId]) Object.assign(state[orderId], { saved: order, version });
    },
    /** After keeping: the same order, based on the new revision; undo still reaches back. */
    rebased: (state, { payload: { orderId, order, basedOn, version } }: On<Standing>) => {
      if (state[orderId]) Object.assign(state[orderId], { saved: order, basedOn, version });
    },
    /** Somebody else's work takes the place of one's own; undo brings that back. */
    yielded: (state, { payload: { orderId, order, basedOn, version } }: On<Standing>) => {
      change(state[orderId], order, null);
      Object.assign(state[orderId], { basedOn, version, saved: state[orderId].present });
    },
    /** One's own work is saved over somebody else's, knowingly. */
    insisted: (state, { payload: { orderId, basedOn, version } }: On<{ basedOn: number; version: number }>) => {
      Object.assign(state[orderId], { basedOn, version });
    },
    /** @param touched what a row of changes is about, so that they are undone as one */
    edited: (
      state,
      { payload: { orderId, order, touched = null } }: On<{ order: OrderFile; touched?: string | null }>,
    ) => change(state[orderId], order, touched),
    undone: (state, { payload: { orderId } }: On<object>) => undo(state[orderId]),
    redone: (state, { payload: { orderId } }: On<object>) => redo(state[orderId]),
  },
});
