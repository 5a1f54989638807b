import { useRef } from 'react';

/** The value of before where the new one says the same: what hangs on it is not made again. For what is small, and plain. */
export function useSame<T>(value: T): T {
  const last = useRef(value);
  if (JSON.stringify(last.current) !== JSON.stringify(value)) last.current = value;
  return last.current;
}
