import { ROUTES, type ServerEvent } from '@tonos/contract';
import { useEffect } from 'react';
import { useAppDispatch } from '../app/store.ts';
import { api, EVERYTHING } from './api.ts';
import { listenTogether } from './shared-stream.ts';
import { take } from './take-event.ts';

/** Listens to the server for as long as the page is open. After a gap everything is asked afresh. */
export function useServerEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(
    () =>
      listenTogether(ROUTES.events.path, {
        onEvent: (data) => take(JSON.parse(data) as ServerEvent, dispatch),
        onGap: () => dispatch(api.util.invalidateTags([...EVERYTHING])),
      }),
    [dispatch],
  );
}
