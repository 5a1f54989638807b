import type { Announcements, ScreenReaderInstructions } from '@dnd-kit/core';
import { nameOfStep } from '../../steps/describe-step.ts';
import type { EditedStep } from './chain-slice.ts';

export const MOVE_HELP: ScreenReaderInstructions = {
  draggable:
    'Space takes the step up, the arrows move it, Space puts it down, Escape puts it back. Alt with the arrows moves it at once.',
};

/** P22: what is said while a step is moved, by its name and its place. */
export function moveWords(steps: readonly (Pick<EditedStep, 'id' | 'kind'> & { settings?: unknown })[]): Announcements {
  const nameOf = (id: string | number) => {
    const found = steps.find((step) => step.id === id);
    return found ? nameOfStep(found) : '';
  };
  const placeOf = (id: string | number) => `place ${steps.findIndex((step) => step.id === id) + 1} of ${steps.length}`;
  return {
    onDragStart: ({ active }) => `${nameOf(active.id)} is taken up, at ${placeOf(active.id)}.`,
    onDragOver: ({ active, over }) => (over ? `${nameOf(active.id)} is over ${placeOf(over.id)}.` : undefined),
    onDragEnd: ({ active, over }) => `${nameOf(active.id)} is put down${over ? `, at ${placeOf(over.id)}` : ''}.`,
    onDragCancel: ({ active }) => `${nameOf(active.id)} is back where it was.`,
  };
}
