/** Something with revisions on the server as it is being edited in the page, with its undo. */
export interface Edited<Content> {
  /** The revision that the work started from. */
  basedOn: number;
  /** The version that the server holds of it, as this page last saw it. */
  version: number;
  /** What that version holds: where the present is another one, there is something to save. */
  saved: Content;
  past: Content[];
  present: Content;
  future: Content[];
  /** What the last change touched: changes that follow on the same thing are undone as one. */
  touched: string | null;
}

const MOST_UNDO = 200;

export const begun = <Content>(present: Content, basedOn: number, version: number): Edited<Content> => ({
  basedOn,
  version,
  saved: present,
  past: [],
  present,
  future: [],
  touched: null,
});

/** Records the state before a change, unless it goes on with the change before it. */
export function change<Content>(edited: Edited<Content>, next: Content, touched: string | null): void {
  if (touched === null || touched !== edited.touched)
    edited.past = [...edited.past.slice(1 - MOST_UNDO), edited.present];
  edited.present = next;
  edited.future = [];
  edited.touched = touched;
}

export function undo<Content>(edited: Edited<Content>): void {
  const before = edited.past.at(-1);
  if (before === undefined) return;
  edited.future = [edited.present, ...edited.future];
  edited.past = edited.past.slice(0, -1);
  edited.present = before;
  edited.touched = null;
}

export function redo<Content>(edited: Edited<Content>): void {
  const [next, ...rest] = edited.future;
  if (next === undefined) return;
  edited.past = [...edited.past, edited.present];
  edited.present = next;
  edited.future = rest;
  edited.touched = null;
}
