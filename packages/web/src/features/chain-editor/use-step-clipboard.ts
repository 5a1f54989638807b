import { useEffect } from 'react';
import { useAppDispatch } from '../../app/store.ts';
import { say } from '../../ui/notify.ts';
import { chainEditorSlice, type EditedStep } from './chain-slice.ts';
import { stepsFromText, stepsToText } from './steps-text.ts';

const { inserted, removed } = chainEditorSlice.actions;

/** Words that are chosen, and fields, have a clipboard of their own. */
const isElsewhere = (event: Event): boolean =>
  (event.target as HTMLElement | null)?.closest?.('input, textarea, [role=dialog]') !== null ||
  (getSelection()?.toString() ?? '') !== '';

/** Copies, cuts and pastes steps, within a chain and from one to another: the chosen one, or all where none is chosen. */
export function useStepClipboard(chainId: string, steps: readonly EditedStep[], current: string | null): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const chosen = steps.filter(({ id }) => current === null || id === current);
    const copy = (event: ClipboardEvent) => {
      if (isElsewhere(event) || !chosen.length) return;
      event.clipboardData?.setData('text/plain', stepsToText(chosen));
      event.preventDefault();
      if (event.type === 'cut' && current) dispatch(removed({ chainId, id: current }));
      else say(chosen.length === 1 ? 'The step is copied.' : `All ${chosen.length} steps are copied.`);
    };
    const paste = (event: ClipboardEvent) => {
      if (isElsewhere(event)) return;
      const pasted = stepsFromText(event.clipboardData?.getData('text/plain') ?? '');
      if (!pasted) return;
      event.preventDefault();
      const at = current ? steps.findIndex(({ id }) => id === current) + 1 : steps.length;
      dispatch(inserted({ chainId, at, steps: pasted }));
    };
    addEventListener('copy', copy);
    addEventListener('cut', copy);
    addEventListener('paste', paste);
    return () => {
      removeEventListener('copy', copy);
      removeEventListener('cut', copy);
      removeEventListener('paste', paste);
    };
  }, [chainId, steps, current, dispatch]);
}
