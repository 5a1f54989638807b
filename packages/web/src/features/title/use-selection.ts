import { useRef, useState } from 'react';

export interface Selection {
  chosen: ReadonlySet<string>;
  /** One more or less; with `range`, all between the last one and this one. */
  toggle(id: string, range: boolean): void;
  set(ids: Iterable<string>): void;
}

/** Rows that are chosen, in the order they are shown in. */
export function useSelection(shown: readonly string[]): Selection {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const last = useRef<string>(null);
  const toggle = (id: string, range: boolean) => {
    const next = new Set(chosen);
    const on = !chosen.has(id);
    const from = last.current === null ? -1 : shown.indexOf(last.current);
    const to = shown.indexOf(id);
    const ids = range && from >= 0 ? shown.slice(Math.min(from, to), Math.max(from, to) + 1) : [id];
    for (const one of ids) {
      if (on) next.add(one);
      else next.delete(one);
    }
    last.current = id;
    setChosen(next);
  };
  return { chosen, toggle, set: (ids) => setChosen(new Set(ids)) };
}
