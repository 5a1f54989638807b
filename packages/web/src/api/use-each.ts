import type { ThunkAction, UnknownAction } from '@reduxjs/toolkit';
import { useEffect, useMemo } from 'react';
import { shallowEqual } from 'react-redux';
import { type RootState, useAppDispatch, useAppSelector } from '../app/store.ts';

/** What `useEach` needs of an endpoint. */
interface Asked<Arg, Data> {
  initiate(arg: Arg): ThunkAction<{ unsubscribe(): void }, RootState, unknown, UnknownAction>;
  select(arg: NoInfer<Arg>): (state: RootState) => { data?: Data };
}

/**
 * The same question about several things at once, in their order; undefined where the answer is not there yet.
 * @param args need not be the same array each time
 */
export function useEach<Arg, Data>(endpoint: Asked<Arg, Data>, args: readonly Arg[]): readonly (Data | undefined)[] {
  const dispatch = useAppDispatch();
  const key = JSON.stringify(args);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all of them
  const stable = useMemo(() => args, [key]);
  useEffect(() => {
    const asked = stable.map((arg) => dispatch(endpoint.initiate(arg)));
    return () => {
      for (const one of asked) one.unsubscribe();
    };
  }, [dispatch, endpoint, stable]);
  return useAppSelector((state) => stable.map((arg) => endpoint.select(arg)(state).data), shallowEqual);
}
