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
  keep(): void;
  canKeep: boolean;
}

const focusStep = (id: string | undefined) => id && document.getElementById(`step-${id}`)?.focus();

/** The chain page without a mouse. Keys of single letters rest while somebody types. */
export function useChainKeys({ chainId, steps, current, setOpened, focusAdd, keep, canKeep }: ChainKeysNeeds): void {
  const dispatch = useAppDispatch();
  const at = steps.findIndex(({ id }) => id === current);
  const step = steps[at];
  const go = (by: number) => focusStep(steps[Math.min(steps.length - 1, Math.max(0, at < 0 ? 0 : at + by))]?.id);
  const move = (by: number) => {
    if (!step) return;
    dispatch(moved({ chainId, id: step.id, to: at + by }));
    requestAnimationFrame(() => focusStep(step.id));
  };
  const quiet = { preventDefault: true };
  useHotkeys('a', focusAdd, quiet);
  useHotkeys('up', () => go(-1), quiet);
  useHotkeys('down', () => go(1), quiet);
  useHotkeys('alt+up', () => move(-1), quiet);
  useHotkeys('alt+down', () => move(1), quiet);
  useHotkeys('o', () => step && dispatch(edited({ chainId, id: step.id, part: { on: !step.on }, touched: null })));
  useHotkeys('delete', () => {
    if (!step) return;
    dispatch(removed({ chainId, id: step.id }));
    setOpened(null);
    focusStep((steps[at + 1] ?? steps[at - 1])?.id);
  });
  useHotkeys('mod+z', () => void dispatch(undone({ chainId })), quiet);
  useHotkeys('mod+shift+z', () => void dispatch(redone({ chainId })), quiet);
  useHotkeys('k', keep, { ...quiet, enabled: canKeep });
}
