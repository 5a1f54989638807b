import type { Chain, NewDraft } from '@tonos/contract';
import { useEffect, useRef } from 'react';
import { api } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { sayError } from '../../ui/notify.ts';
import { personName } from '../../ui/person.ts';
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
  /** Saves what has not been saved yet, in a way that outlives the page. */
  const leaving = useRef<() => void>(null);

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
    leaving.current = null;
    if (!chain || !present || basedOn === undefined || saved.current === present) return;
    const id = chain.id;
    // back at the revision, by undo or by keeping: there is nothing in progress
    const kept = basedOn === chain.revision && sameSteps(present, chain.steps);
    if (kept && !chain.draft) return;
    if (chain.draft && sameSteps(present, chain.draft.steps)) return;
    leaving.current = () => saveAtOnce(id, kept ? null : { steps: present, basedOn, author: personName() });
    const timer = setTimeout(async () => {
      leaving.current = null;
      saved.current = present;
      const { error } = kept
        ? await dropDraft(id)
        : await saveDraft({ id, steps: present, basedOn, author: personName() });
      if (error) sayError('The draft was not saved', error);
    }, SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [chain, present, basedOn, saveDraft, dropDraft]);

  useEffect(() => {
    const leave = () => {
      leaving.current?.();
      leaving.current = null;
    };
    addEventListener('pagehide', leave);
    return () => {
      removeEventListener('pagehide', leave);
      leave();
    };
  }, []);
  return edited;
}

/** The browser sends it even when the page is gone. */
function saveAtOnce(id: string, draft: NewDraft | null): void {
  void fetch(`/api/chains/${id}/draft`, {
    method: draft ? 'PUT' : 'DELETE',
    keepalive: true,
    ...(draft && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(draft) }),
  }).catch(() => {}); // nobody is there to be told
}
