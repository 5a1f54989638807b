import type { KeyboardEvent } from 'react';

/** Arrows go from row to row, Enter plays, x chooses (with Shift all since the last), e renames, o opens. */
export function onRowKey(event: KeyboardEvent<HTMLTableRowElement>, toggle: () => void): void {
  const row = event.currentTarget;
  if (event.target !== row || event.ctrlKey || event.metaKey || event.altKey) return;
  const handled = handle(row, event.key.toLowerCase(), toggle);
  if (handled) event.preventDefault();
}

function handle(row: HTMLElement, key: string, toggle: () => void): boolean {
  switch (key) {
    case 'arrowdown':
      neighbour(row, 'nextElementSibling')?.focus();
      return true;
    case 'arrowup':
      neighbour(row, 'previousElementSibling')?.focus();
      return true;
    case 'enter':
      row.querySelector<HTMLElement>('[aria-label^="Play "], [aria-label^="Pause "]')?.click();
      return true;
    case 'x':
      toggle();
      return true;
    case 'e':
      row.querySelector<HTMLElement>('[data-rename]')?.click();
      return true;
    case 'o':
      row.querySelector<HTMLElement>('a')?.click();
      return true;
    default:
      return false;
  }
}

/** Each row is a row group of its own. */
const neighbour = (row: HTMLElement, side: 'nextElementSibling' | 'previousElementSibling') =>
  row.closest('tbody')?.[side]?.querySelector<HTMLElement>('tr[tabindex]');
