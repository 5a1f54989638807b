import type { Recording } from '@tonos/contract';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { type Markings, markingsOf } from './markings.ts';

export interface Marking {
  present: Markings;
  change(next: Markings): void;
  canUndo: boolean;
  undo(): void;
}

/** What is marked in a recording, shown at once and kept by the server, with undo and redo. */
export function useMarkings(recording: Recording): Marking {
  const [save] = api.useChangeRecordingMutation();
  const [past, setPast] = useState<Markings[]>([]);
  const [future, setFuture] = useState<Markings[]>([]);
  const present = markingsOf(recording);
  const keep = async (next: Markings) => {
    const { error } = await save({ id: recording.id, ...next });
    if (error) sayError(`${recording.name} was not changed`, error);
  };
  const change = (next: Markings) => {
    setPast([...past, present]);
    setFuture([]);
    void keep(next);
  };
  const undo = () => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    setFuture([present, ...future]);
    void keep(last);
  };
  const redo = () => {
    const [next, ...rest] = future;
    if (!next) return;
    setPast([...past, present]);
    setFuture(rest);
    void keep(next);
  };
  useHotkeys('mod+z', undo, { preventDefault: true });
  useHotkeys(['mod+shift+z', 'mod+y'], redo, { preventDefault: true });
  return { present, change, canUndo: past.length > 0, undo };
}
