import type { Recording } from '@tonos/contract';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { api } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { sayError } from '../../ui/notify.ts';
import { changesBetween, type Markings, type MarkingsChange, markingsOf, withChange } from './markings.ts';

export interface Marking {
  present: Markings;
  change(next: Markings): void;
  canUndo: boolean;
  undo(): void;
}

/** One act, and what takes it back. Both touch what the act touched, and nothing that others mark meanwhile. */
interface Act {
  done: MarkingsChange;
  undone: MarkingsChange;
}

const CHANGED_MEANWHILE = 412;

/** What is marked in a recording, shown at once and kept by the server, with undo and redo. */
export function useMarkings(recording: Recording): Marking {
  const { id } = recording;
  const dispatch = useAppDispatch();
  const [setMark] = api.useSetMarkMutation();
  const [removeMark] = api.useRemoveMarkMutation();
  const [setBox] = api.useSetBoxMutation();
  const [removeBox] = api.useRemoveBoxMutation();
  const [setCut] = api.useSetCutMutation();
  const [removeCut] = api.useRemoveCutMutation();
  const [save] = api.useChangeRecordingMutation();
  const [past, setPast] = useState<Act[]>([]);
  const [future, setFuture] = useState<Act[]>([]);
  const present = markingsOf(recording);

  /** Stretches of room tone have no ids: what this page says of them is said again of what stands. */
  const keepRoomTone = async (change: MarkingsChange, standing: Recording): Promise<unknown> => {
    const { roomToneChoice } = withChange(markingsOf(standing), change);
    const { error } = await save({ id, seen: standing.version, roomToneChoice });
    const { status, data } = (error ?? {}) as { status?: unknown; data?: { recording?: Recording } };
    return status === CHANGED_MEANWHILE && data?.recording ? keepRoomTone(change, data.recording) : error;
  };
  const keep = async (change: MarkingsChange) => {
    const { marks, boxes, cuts, roomTone } = change;
    const shown = dispatch(
      api.util.updateQueryData(
        'recording',
        id,
        (known) => void Object.assign(known, withChange(markingsOf(known), change)),
      ),
    );
    const refused: unknown[] = [];
    for (const { id: markId, ...mark } of marks.put) refused.push((await setMark({ id, markId, ...mark })).error);
    for (const markId of marks.removed) refused.push((await removeMark({ id, markId })).error);
    for (const { id: boxId, ...box } of boxes.put) refused.push((await setBox({ id, boxId: boxId!, ...box })).error);
    for (const boxId of boxes.removed) refused.push((await removeBox({ id, boxId })).error);
    // what goes makes room for what comes
    for (const cutId of cuts.removed) refused.push((await removeCut({ id, cutId })).error);
    for (const cut of cuts.put) refused.push((await setCut({ id, cutId: cut.id!, cut })).error);
    if (roomTone) refused.push(await keepRoomTone(change, recording));
    const error = refused.find((one) => one !== undefined);
    if (!error) return;
    shown.undo();
    dispatch(api.util.invalidateTags([{ type: 'Recordings', id }]));
    sayError(`${recording.name} was not changed`, error);
  };
  const change = (next: Markings) => {
    setPast([...past, { done: changesBetween(present, next), undone: changesBetween(next, present) }]);
    setFuture([]);
    void keep(changesBetween(present, next));
  };
  const undo = () => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    setFuture([last, ...future]);
    void keep(last.undone);
  };
  const redo = () => {
    const [next, ...rest] = future;
    if (!next) return;
    setPast([...past, next]);
    setFuture(rest);
    void keep(next.done);
  };
  useHotkeys('mod+z', undo, { preventDefault: true });
  useHotkeys(['mod+shift+z', 'mod+y'], redo, { preventDefault: true });
  return { present, change, canUndo: past.length > 0, undo };
}
