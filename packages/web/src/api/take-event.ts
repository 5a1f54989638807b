import type { ServerEvent } from '@tonos/contract';
import type { AppDispatch } from '../app/store.ts';
import { api } from './api.ts';
import { progressSlice } from './progress-slice.ts';

const { advanced, settled } = progressSlice.actions;

/** Puts an entry in place of the one with its id, or at the end. */
function put<T extends { id: string }>(list: T[], entry: T): void {
  const at = list.findIndex(({ id }) => id === entry.id);
  if (at < 0) list.push(entry);
  else list[at] = entry;
}

/** Changes what is known; where an answer is on its way, which may be older than the event, once more when it has come. */
function change<Name extends 'recordings' | 'recording' | 'run' | 'runs'>(
  dispatch: AppDispatch,
  ...[name, of, how]: Parameters<typeof api.util.updateQueryData<Name>>
): void {
  const update = () => dispatch(api.util.updateQueryData(name, of, how));
  update();
  void dispatch(api.util.getRunningQueryThunk(name, of))?.then(update);
}

/** Brings what the page knows up to what the server tells. */
export function take(event: ServerEvent, dispatch: AppDispatch): void {
  switch (event.type) {
    case 'recording': {
      const { recording } = event;
      change(dispatch, 'recordings', recording.titleId, (list) =>
        recording.trashedAt || recording.superseded
          ? list.filter(({ id }) => id !== recording.id)
          : put(list, recording),
      );
      change(dispatch, 'recording', recording.id, () => recording);
      dispatch(api.util.invalidateTags(recording.trashedAt ? ['Titles', 'Trash'] : ['Titles']));
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
      change(dispatch, 'run', item.runId, (run) => put(run.items, item));
      if (item.status !== 'working') dispatch(settled(item.id));
      return;
    }
    case 'item-progress':
      dispatch(advanced({ id: event.itemId, share: event.share, stage: event.stage, secondsLeft: event.secondsLeft }));
      return;
    case 'run': {
      const { run } = event;
      change(dispatch, 'run', run.id, (known) => void Object.assign(known, run));
      change(dispatch, 'runs', undefined, (list) => {
        if (list.some(({ id }) => id === run.id)) put(list, run);
        else list.unshift(run);
      });
      return;
    }
    case 'chain':
      dispatch(api.util.invalidateTags(['Chains']));
      return;
    case 'target':
      // titles follow to its next version
      dispatch(api.util.invalidateTags(['Targets', 'Titles']));
      return;
    case 'title':
      dispatch(api.util.invalidateTags(['Titles', 'Runs']));
      return;
    case 'preset':
      dispatch(api.util.invalidateTags(['Presets']));
      return;
    case 'index-place':
      dispatch(api.util.invalidateTags(['Index']));
      return;
    case 'run-moved':
      dispatch(api.util.invalidateTags(['Runs']));
      return;
    case 'trash':
      dispatch(api.util.invalidateTags(['Trash', 'Storage']));
  }
}
