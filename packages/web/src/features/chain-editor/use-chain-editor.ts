import type { Chain, NewDraft } from '@tonos/contract';
import { useEffect, useRef, useState } from 'react';
import { api } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { say, sayError } from '../../ui/notify.ts';
import { personName } from '../../ui/person.ts';
import { useLatest } from '../../ui/use-latest.ts';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';

const { opened, stored, yielded, insisted } = chainEditorSlice.actions;
const SAVE_AFTER_MS = 500;
const CHANGED_MEANWHILE = 412;

export const sameSteps = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What another person's work and one's own can be brought together by. */
export interface Conflict {
  /** Who wrote; empty where they did not say. */
  author: string;
  takeTheirs(): void;
  keepMine(): void;
}

/**
 * The chain under work: opened from its draft or its latest revision, and saved as the draft a moment after each change in this page. A page
 * in which nothing is changed follows what others do, and writes nothing.
 */
export function useChainEditor(chain: Chain | undefined): { edited?: EditedChain; conflict?: Conflict } {
  const dispatch = useAppDispatch();
  const edited = useAppSelector((state) => (chain ? state.chainEditor[chain.id] : undefined));
  const [saveDraft] = api.useSaveDraftMutation();
  const [dropDraft] = api.useDropDraftMutation();
  const [refused, setRefused] = useState(false);
  const [saving, setSaving] = useState(false);
  /** Saves what has not been saved yet, in a way that outlives the page. */
  const leaving = useRef<() => void>(null);

  useEffect(() => {
    if (!chain) return;
    const idle = edited?.present === edited?.saved;
    if (edited && !(idle && chain.version > edited.version)) return;
    if (edited) say(`${chain.draft?.author || 'Somebody else'} changed this chain; it is shown as it is now.`);
    dispatch(opened({ chainId: chain.id, ...standing(chain) }));
  }, [chain, edited, dispatch]);

  const send = async (of: Chain, { present, basedOn, version }: EditedChain) => {
    // back at the revision, by undo or by keeping: there is nothing in progress
    const kept = basedOn === of.revision && sameSteps(present, of.steps);
    const done = kept
      ? await dropDraft({ id: of.id, version })
      : await saveDraft({ id: of.id, version, steps: present, basedOn, author: personName() });
    if (done.error) {
      if ((done.error as { status?: unknown }).status !== CHANGED_MEANWHILE)
        return sayError('The draft was not saved', done.error);
      setRefused(true);
      // the event that told of it may have been missed
      dispatch(api.util.invalidateTags(['Chains']));
      return;
    }
    dispatch(stored({ chainId: of.id, steps: present, version: done.data.version }));
  };
  const save = useLatest((of: Chain, work: EditedChain) => {
    setSaving(true);
    return send(of, work).finally(() => setSaving(false));
  });

  useEffect(() => {
    leaving.current = null;
    // one at a time: each names the version that the one before it made
    if (!chain || !edited || refused || saving || edited.present === edited.saved) return;
    const { present, basedOn, version } = edited;
    leaving.current = () => saveAtOnce(chain.id, { steps: present, basedOn, author: personName() }, version);
    const timer = setTimeout(() => {
      leaving.current = null;
      void save(chain, edited);
    }, SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [chain, edited, refused, saving, save]);

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

  // until what the others wrote has come in there is nothing to choose from
  if (!refused || !chain || !edited || chain.version <= edited.version) return { edited };
  const settle = (action: Parameters<typeof dispatch>[0]) => {
    setRefused(false);
    dispatch(action);
  };
  return {
    edited,
    conflict: {
      author: chain.draft?.author ?? '',
      takeTheirs: () => settle(yielded({ chainId: chain.id, ...standing(chain) })),
      keepMine: () => settle(insisted({ chainId: chain.id, basedOn: chain.revision, version: chain.version })),
    },
  };
}

const standing = ({ draft, steps, revision, version }: Chain) => ({
  steps: draft?.steps ?? steps,
  basedOn: draft?.basedOn ?? revision,
  version,
});

/** The browser sends it even when the page is gone. */
function saveAtOnce(id: string, draft: NewDraft, version: number): void {
  void fetch(`/api/chains/${id}/draft`, {
    method: 'PUT',
    keepalive: true,
    headers: { 'content-type': 'application/json', 'if-match': `"${version}"` },
    body: JSON.stringify(draft),
  }).catch(() => {}); // nobody is there to be told
}
