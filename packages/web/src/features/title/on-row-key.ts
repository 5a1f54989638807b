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
      step(row, 'nextElementSibling');
      return true;
    case 'arrowup':
      step(row, 'previousElementSibling');
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

type Side = 'nextElementSibling' | 'previousElementSibling';

/** Steps that are to be taken, in turn: keys come quicker than rows are drawn. */
const steps: Side[] = [];

function step(row: HTMLElement, side: Side): void {
  steps.push(side);
  if (steps.length === 1) takeSteps(row);
}

function takeSteps(from: HTMLElement): void {
  let row = from;
  for (; steps.length; steps.shift()) {
    // each row is a row group of its own, and so is the room of those that are not drawn
    const group = row.closest('tbody')?.[steps[0]];
    const next = group?.querySelector<HTMLElement>('tr[tabindex]');
    if (!next && group?.firstElementChild) {
      takeStepsOnceDrawn(row);
      return;
    }
    next?.focus();
    row = next ?? row;
  }
}

function takeStepsOnceDrawn(row: HTMLElement): void {
  row.scrollIntoView({ block: 'center' });
  requestAnimationFrame(() => {
    // who has gone elsewhere meanwhile is not fetched back
    if (document.activeElement === row) takeSteps(row);
    else steps.length = 0;
  });
}
