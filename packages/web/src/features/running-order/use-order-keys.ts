import { useHotkeys } from 'react-hotkeys-hook';

interface OrderKeysNeeds {
  ids: readonly string[];
  chosen: string | null;
  choose(id: string): void;
  add(): void;
  remove(): void;
  move(by: number): void;
  undo(): void;
  redo(): void;
  keep(): void;
  run(): void;
  listen(): void;
}

const WORDS = 'textarea, input';
const isIn = (event: KeyboardEvent, where: string) => (event.target as HTMLElement).closest(where) !== null;

/** Letters and arrows belong to a field or dialog while somebody is in it, and arrows to a plate. */
const WHERE_NOBODY_TYPES = {
  preventDefault: true,
  enableOnFormTags: true,
  ignoreEventWhen: (event: KeyboardEvent) => isIn(event, `${WORDS}, [role=dialog], [role=listbox]`),
};
const OUTSIDE_DIALOGS = {
  preventDefault: true,
  enableOnFormTags: true,
  ignoreEventWhen: (event: KeyboardEvent) => isIn(event, '[role=dialog]'),
};

/** The page of a running order without a mouse. */
export function useOrderKeys(needs: OrderKeysNeeds): void {
  const { ids, chosen, choose, add, remove, move, undo, redo, keep, run, listen } = needs;
  const at = chosen === null ? -1 : ids.indexOf(chosen);
  const go = (by: number) => {
    const id = ids[Math.min(ids.length - 1, Math.max(0, at < 0 ? 0 : at + by))];
    if (id === undefined) return;
    choose(id);
    document.getElementById(`part-row-${id}`)?.focus();
  };
  useHotkeys('up', () => go(-1), WHERE_NOBODY_TYPES);
  useHotkeys('down', () => go(1), WHERE_NOBODY_TYPES);
  useHotkeys('alt+up', () => move(-1), WHERE_NOBODY_TYPES);
  useHotkeys('alt+down', () => move(1), WHERE_NOBODY_TYPES);
  useHotkeys('a', add, WHERE_NOBODY_TYPES);
  useHotkeys('delete', remove, WHERE_NOBODY_TYPES);
  useHotkeys('k', keep, WHERE_NOBODY_TYPES);
  useHotkeys('n', run, WHERE_NOBODY_TYPES);
  useHotkeys('l', listen, WHERE_NOBODY_TYPES);
  useHotkeys('mod+z', undo, OUTSIDE_DIALOGS);
  useHotkeys('mod+shift+z', redo, OUTSIDE_DIALOGS);
}
