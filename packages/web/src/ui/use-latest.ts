import { useCallback, useLayoutEffect, useRef } from 'react';

/** A function that stays the same and does what the newest one does: what hangs on it need not be drawn again. */
export function useLatest<Args extends unknown[], Result>(act: (...args: Args) => Result): (...args: Args) => Result {
  const latest = useRef(act);
  useLayoutEffect(() => {
    latest.current = act;
  });
  return useCallback((...args) => latest.current(...args), []);
}
