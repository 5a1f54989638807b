import type { IndexPlace } from '@tonos/contract';
import { useEffect, useRef } from 'react';

export type TakePlace = (place: IndexPlace) => void;

/** Pages that can use what lies at a place; the one that came last is asked. */
const takers: TakePlace[] = [];

/** While the calling page is open, a recalled place is given to it. */
export function useRecall(take: TakePlace): void {
  const latest = useRef(take);
  latest.current = take;
  useEffect(() => {
    const taker: TakePlace = (place) => latest.current(place);
    takers.push(taker);
    return () => {
      takers.splice(takers.indexOf(taker), 1);
    };
  }, []);
}

/** @returns false where no page can use it */
export function recall(place: IndexPlace): boolean {
  const taker = takers.at(-1);
  taker?.(place);
  return taker !== undefined;
}
