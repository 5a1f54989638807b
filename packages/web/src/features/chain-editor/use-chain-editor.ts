import type { Chain } from '@tonos/contract';
import { useEffect, useRef } from 'react';
import { api } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { sayError } from '../../ui/notify.ts';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';

const { opened } = chainEditorSlice.actions;
const SAVE_AFTER_MS = 500;

export const sameSteps = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** The chain under work: opened from its draft or its latest revision, and saved as the draft a moment after each change. */
export function useChainEditor(chain: Chain | undefined): EditedChain | undefined {
  const dispatch = useAppDispatch();
  const edited = useAppSelector((state) => (chain ? state.chainEditor[chain.id] : undefined));
  const [saveDraft] = api.useSaveDraftMutation();
  const [dropDraft] = api.useDropDraftMutation();
  const saved = useRef<EditedChain['present']>(null);

  useEffect(() => {
    if (!chain || edited) return;
    dispatch(
      opened({
        chainId: chain.id,
        steps: chain.draft?.steps ?? chain.steps,
        basedOn: chain.draft?.basedOn ?? chain.revision,
      }),
    );
  }, [chain, edited, dispatch]);

  const present = edited?.present;
  const basedOn = edited?.basedOn;
  useEffect(() => {
    if (!chain || !present || basedOn === undefined || saved.current === present) return;
    const id = chain.id;
    // back at the revision, by undo or by keeping: there is nothing in progress
    const kept = basedOn === chain.revision && sameSteps(present, chain.steps);
    if (kept && !chain.draft) return;
    if (chain.draft && sameSteps(present, chain.draft.steps)) return;
    const timer = setTimeout(async () => {
      saved.current = present;
      const { error } = kept ? await dropDraft(id) : await saveDraft({ id, steps: present, basedOn });
      if (error) sayError('The draft was not saved', error);
    }, SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [chain, present, basedOn, saveDraft, dropDraft]);
  return edited;
}
