import type { ServerEvent } from '@tonos/contract';
import { useEffect } from 'react';
import { type AppDispatch, useAppDispatch } from '../app/store.ts';
import { api } from './api.ts';
import { progressSlice } from './progress-slice.ts';

const { advanced, settled } = progressSlice.actions;

/** Puts an entry in place of the one with its id, or at the end. */
function put<T extends { id: string }>(list: T[], entry: T): void {
  const at = list.findIndex(({ id }) => id === entry.id);
  if (at < 0) list.push(entry);
  else list[at] = entry;
}

function take(event: ServerEvent, dispatch: AppDispatch): void {
  switch (event.type) {
    case 'recording': {
      const { recording } = event;
      dispatch(
        api.util.updateQueryData('recordings', recording.titleId, (list) =>
          recording.trashedAt ? list.filter(({ id }) => id !== recording.id) : put(list, recording),
        ),
      );
      dispatch(api.util.updateQueryData('recording', recording.id, () => recording));
      dispatch(api.util.invalidateTags(['Titles']));
      if (recording.status !== 'measuring') dispatch(settled(recording.id));
      return;
    }
    case 'recording-progress':
      dispatch(
        advanced({ id: event.recordingId, share: event.share, stage: 'measuring', secondsLeft: event.secondsLeft }),
      );
      return;
    case 'item': {
      const { item } = event;
      dispatch(api.util.updateQueryData('run', item.runId, (run) => put(run.items, item)));
      if (item.status !== 'working') dispatch(settled(item.id));
      return;
    }
    case 'item-progress':
      dispatch(advanced({ id: event.itemId, share: event.share, stage: event.stage, secondsLeft: event.secondsLeft }));
      return;
    case 'run': {
      const { run } = event;
      dispatch(api.util.updateQueryData('run', run.id, (known) => Object.assign(known, run)));
      dispatch(
        api.util.updateQueryData('runs', undefined, (list) => {
          if (list.some(({ id }) => id === run.id)) put(list, run);
          else list.unshift(run);
        }),
      );
      return;
    }
    case 'chain':
      dispatch(api.util.invalidateTags(['Chains']));
      return;
    case 'target':
      dispatch(api.util.invalidateTags(['Targets']));
  }
}

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
      if (gap) dispatch(api.util.invalidateTags(['Titles', 'Recordings', 'Chains', 'Runs']));
      gap = false;
    };
    return () => source.close();
  }, [dispatch]);
}
