import type { ServerEvent } from '@tonos/contract';
import { useEffect } from 'react';
import { useAppDispatch } from '../app/store.ts';
import { api, EVERYTHING } from './api.ts';
import { take } from './take-event.ts';

/** Listens to the server for as long as the page is open. After a gap, and when listening begins, everything is asked afresh. */
export function useServerEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const source = new EventSource('/api/events');
    // what was asked before the first connection may have changed until it stood
    let gap = true;
    source.onmessage = ({ data }) => take(JSON.parse(data) as ServerEvent, dispatch);
    source.onerror = () => {
      gap = true;
    };
    source.onopen = () => {
      if (gap) dispatch(api.util.invalidateTags([...EVERYTHING]));
      gap = false;
    };
    return () => source.close();
  }, [dispatch]);
}
