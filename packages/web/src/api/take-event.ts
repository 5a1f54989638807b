import { original } from '@reduxjs/toolkit';
import { areLabels, type Recording, type ServerEvent } from '@tonos/contract';
import type { AppDispatch, RootState } from '../app/store.ts';
import { api, EVERYTHING, type Tag } from './api.ts';
import { asWhole } from './as-whole.ts';
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

const SOON_MS = 300;
const waiting = new WeakMap<AppDispatch, Tag[]>();

/** Asks again, once for many events: what is counted over a title or over all of them changes with every one. */
function soon(dispatch: AppDispatch, ...tags: Tag[]): void {
  const already = waiting.get(dispatch);
  if (already) return void already.push(...tags);
  const all = [...tags];
  waiting.set(dispatch, all);
  setTimeout(() => {
    waiting.delete(dispatch);
    dispatch(api.util.invalidateTags(all));
  }, SOON_MS);
}

/** Of the recordings that are known one by one, or asked for. */
const idsKnown = (_: AppDispatch, getState: () => RootState): string[] =>
  api.util.selectCachedArgsForQuery(getState(), 'recording');

const isListed = ({ trashedAt, superseded }: Recording) => trashedAt === null && !superseded;

/** Brings what the page knows up to what the server tells. */
export function take(event: ServerEvent, dispatch: AppDispatch): void {
  const again = (...tags: Tag[]) => dispatch(api.util.invalidateTags(tags));
  switch (event.type) {
    case 'recording': {
      const { recording } = event;
      change(dispatch, 'recordings', recording.titleId, (list) =>
        isListed(recording) ? put(list, recording) : list.filter(({ id }) => id !== recording.id),
      );
      change(dispatch, 'recording', recording.id, () => recording);
      soon(
        dispatch,
        'Titles',
        'Takes',
        'Standing',
        'Today',
        'Shelf',
        'Notes',
        ...(isListed(recording) ? [] : (['Trash'] as const)),
      );
      if (recording.status !== 'measuring') dispatch(settled(recording.id));
      return;
    }
    case 'recordings': {
      const changes = new Map(event.changes.map((part) => [part.id, part]));
      const back = event.changes.some(({ trashedAt }) => trashedAt === null);
      change(dispatch, 'recordings', event.titleId, (list) => {
        // thousands of rows are not looked at one by one through what notes changes
        const known = (original(list as object) ?? list) as Recording[];
        const changed = known.map((one) => (changes.has(one.id) ? { ...one, ...changes.get(one.id) } : one));
        return asWhole(changed.filter(isListed).sort((a, b) => a.position - b.position)) as typeof list;
      });
      for (const id of dispatch(idsKnown))
        if (changes.has(id)) change(dispatch, 'recording', id, (one) => void Object.assign(one, changes.get(id)));
      if (areLabels(event.changes)) return;
      // those that come back from the trash are not known here
      soon(dispatch, 'Titles', 'Standing', 'Today', 'Shelf', 'Trash', ...(back ? (['Recordings'] as const) : []));
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
      soon(dispatch, 'Standing', 'Today', 'Deliveries');
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
      soon(dispatch, 'Standing', 'Today', 'Deliveries');
      return;
    }
    case 'run-moved':
      soon(dispatch, 'Runs', 'Standing', 'Today', 'Deliveries');
      again({ type: 'Board', id: event.runId });
      return;
    case 'chain':
      again('Chains');
      soon(dispatch, 'Standing');
      return;
    case 'target':
      // titles follow to its next version
      again('Targets', 'Titles');
      soon(dispatch, 'Standing');
      return;
    case 'title':
      again({ type: 'Titles', id: event.titleId });
      soon(dispatch, 'Titles', 'Runs', 'Standing', 'Today');
      return;
    case 'sets':
      again({ type: 'Sets', id: event.titleId });
      return;
    case 'order':
      again('Orders');
      soon(dispatch, 'Standing');
      return;
    case 'outing':
      again('Outings');
      return;
    case 'module':
      again('Modules');
      return;
    case 'preset':
      again('Presets');
      return;
    case 'index-place':
      again('Index');
      return;
    case 'note':
    case 'note-in-title':
      again('Notes');
      return;
    case 'presence':
      again('Presence');
      return;
    case 'people':
      // who may what has changed, and with it what one may know of
      again(...EVERYTHING);
      return;
    case 'storage':
      soon(dispatch, 'Storage', 'Today');
      return;
    case 'trash':
      soon(dispatch, 'Trash', 'Storage', 'Today');
  }
}
