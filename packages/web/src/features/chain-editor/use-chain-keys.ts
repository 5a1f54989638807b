import { useHotkeys } from 'react-hotkeys-hook';
import { useAppDispatch } from '../../app/store.ts';
import { chainEditorSlice, type EditedStep } from './chain-slice.ts';

const { edited, moved, redone, removed, undone } = chainEditorSlice.actions;

interface ChainKeysNeeds {
  chainId: string;
  steps: readonly EditedStep[];
  current: string | null;
  setOpened(id: string | null): void;
  focusAdd(): void;
  hold(id: string): void;
  keep(): void;
  canKeep: boolean;
}

const focusStep = (id: string | undefined) => id && document.getElementById(`step-${id}`)?.focus();

const WORDS = 'textarea, input:not([type=checkbox]):not([type=range]):not([inputmode=decimal])';
const isIn = (event: KeyboardEvent, where: string) => (event.target as HTMLElement).closest(where) !== null;

/** Letters and arrows belong to a field or dialog while somebody is in it; a switch is no such field. */
const WHERE_NOBODY_TYPES = {
  preventDefault: true,
  enableOnFormTags: true,
  ignoreEventWhen: (event: KeyboardEvent) =>
    isIn(event, `${WORDS}, input[inputmode=decimal], [role=dialog], [role=slider]`),
};

/** A figure that was typed is undone like any other change; words undo their own letters. */
const EVEN_IN_FIGURES = {
  preventDefault: true,
  enableOnFormTags: true,
  ignoreEventWhen: (event: KeyboardEvent) => isIn(event, `${WORDS}, [role=dialog]`),
};

/** The chain page without a mouse. Keys of single letters rest while somebody types. */
export function useChainKeys({
  chainId,
  steps,
  current,
  setOpened,
  focusAdd,
  hold,
  keep,
  canKeep,
}: ChainKeysNeeds): void {
  const dispatch = useAppDispatch();
  const at = steps.findIndex(({ id }) => id === current);
  const step = steps[at];
  const go = (by: number) => focusStep(steps[Math.min(steps.length - 1, Math.max(0, at < 0 ? 0 : at + by))]?.id);
  const move = (by: number) => {
    if (!step) return;
    dispatch(moved({ chainId, id: step.id, to: at + by }));
    requestAnimationFrame(() => focusStep(step.id));
  };
  useHotkeys('a', focusAdd, WHERE_NOBODY_TYPES);
  useHotkeys('up', () => go(-1), WHERE_NOBODY_TYPES);
  useHotkeys('down', () => go(1), WHERE_NOBODY_TYPES);
  useHotkeys('alt+up', () => move(-1), WHERE_NOBODY_TYPES);
  useHotkeys('alt+down', () => move(1), WHERE_NOBODY_TYPES);
  useHotkeys(
    'o',
    () => step && dispatch(edited({ chainId, id: step.id, part: { on: !step.on }, touched: null })),
    WHERE_NOBODY_TYPES,
  );
  const remove = () => {
    if (!step) return;
    dispatch(removed({ chainId, id: step.id }));
    setOpened(null);
    focusStep((steps[at + 1] ?? steps[at - 1])?.id);
  };
  useHotkeys('delete', remove, WHERE_NOBODY_TYPES);
  useHotkeys('mod+z', () => void dispatch(undone({ chainId })), EVEN_IN_FIGURES);
  useHotkeys('mod+shift+z', () => void dispatch(redone({ chainId })), EVEN_IN_FIGURES);
  useHotkeys('h', () => step && hold(step.id), WHERE_NOBODY_TYPES);
  useHotkeys('k', keep, { ...WHERE_NOBODY_TYPES, enabled: canKeep });
}
