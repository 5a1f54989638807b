import { configureStore } from '@reduxjs/toolkit';
import { setAutoFreeze } from 'immer';
import { useDispatch, useSelector } from 'react-redux';
import { api } from '../api/api.ts';
import { arrivingSlice } from '../api/arriving-slice.ts';
import { progressSlice } from '../api/progress-slice.ts';
import { besideSlice } from '../features/bench/beside-slice.ts';
import { chainEditorSlice } from '../features/chain-editor/chain-slice.ts';
import { exampleSlice } from '../features/chain-editor/ledger/example-slice.ts';
import { orderSlice } from '../features/running-order/order-slice.ts';
import { listeningController, obeyedBy } from '../listening/listening-controller.ts';
import { listeningSlice } from '../listening/listening-slice.ts';

// thousands of rows come in at once, and freezing goes through all that hangs on them: tests and the server of `npm run dev` do, and find what
// changes something in place
if (import.meta.env?.PROD) setAutoFreeze(false);

/** Tests make their own. */
export const makeStore = () =>
  configureStore({
    reducer: {
      [api.reducerPath]: api.reducer,
      progress: progressSlice.reducer,
      arriving: arrivingSlice.reducer,
      chainEditor: chainEditorSlice.reducer,
      example: exampleSlice.reducer,
      orders: orderSlice.reducer,
      listening: listeningSlice.reducer,
      beside: besideSlice.reducer,
    },
    middleware: (defaults) => defaults().concat(api.middleware, obeyedBy(listeningController)),
  });

export const store = makeStore();

export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
