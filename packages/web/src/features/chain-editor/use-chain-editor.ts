import { type Chain, type NewDraft, type NewRevision, ROUTES } from '@tonos/contract';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { api } from '../../api/api.ts';
import { ifSeen, pathOf } from '../../api/request.ts';
import { type RootState, useAppDispatch, useAppSelector } from '../../app/store.ts';
import { say, sayError } from '../../ui/notify.ts';
import { personName } from '../../ui/person.ts';
import { useLatest } from '../../ui/use-latest.ts';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';

const { opened, stored, rebased, yielded, insisted } = chainEditorSlice.actions;
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

export interface ChainEditor {
  edited?: EditedChain;
  conflict?: Conflict;
  /** Keeps the steps as the next revision. @returns its number; undefined where it could not be, which has been said */
  keep(note: string, author: string): Promise<number | undefined>;
}

/**
 * The chain under work: opened from its draft or its latest revision, and saved as the draft a moment after each change in this page. A page
 * in which nothing is changed follows what others do, and writes nothing.
 */
export function useChainEditor(chain: Chain | undefined): ChainEditor {
  const dispatch = useAppDispatch();
  const { getState } = useStore<RootState>();
  const edited = useAppSelector((state) => (chain ? state.chainEditor[chain.id] : undefined));
  const [saveDraft] = api.useSaveDraftMutation();
  const [dropDraft] = api.useDropDraftMutation();
  const [keepRevision] = api.useKeepRevisionMutation();
  /** The version whose successor somebody else wrote: nothing is written until it is settled what counts. */
  const [refusedAt, setRefusedAt] = useState<number>();
  const writes = useRef<Promise<unknown>>(Promise.resolve());
  /** Saves what has not been saved yet, in a way that outlives the page. */
  const leaving = useRef<() => void>(null);

  useEffect(() => {
    if (!chain) return;
    const idle = edited?.present === edited?.saved;
    if (edited && !(idle && chain.version > edited.version)) return;
    if (edited) say(`${chain.draft?.author || 'Somebody else'} changed this chain; it is shown as it is now.`);
    dispatch(opened({ chainId: chain.id, ...standing(chain) }));
  }, [chain, edited, dispatch]);

  /** One after the other, each on the work as it is when its turn comes: each names the version that the one before it made. */
  const inTurn = useLatest(<T>(write: (of: Chain, work: EditedChain) => Promise<T>): Promise<T> => {
    const turn = writes.current.then(() => write(chain!, getState().chainEditor[chain!.id]));
    writes.current = turn.catch(() => {});
    return turn;
  });
  const sayRefused = (title: string, error: unknown, { version }: EditedChain) => {
    if ((error as { status?: unknown }).status !== CHANGED_MEANWHILE) return sayError(title, error);
    setRefusedAt(version);
    // the event that told of it may have been missed
    dispatch(api.util.invalidateTags(['Chains']));
  };
  const save = useLatest(async (of: Chain, work: EditedChain) => {
    const { present, saved, basedOn, version } = work;
    if (present === saved) return;
    // back at the revision, by undo or by keeping: there is nothing in progress
    const kept = basedOn === of.revision && sameSteps(present, of.steps);
    const { data, error } = kept
      ? await dropDraft({ id: of.id, version })
      : await saveDraft({ id: of.id, version, steps: present, basedOn, author: personName() });
    if (data) dispatch(stored({ chainId: of.id, steps: present, version: data.version }));
    else sayRefused('The draft was not saved', error, work);
  });
  const keep = useLatest((note: NewRevision['note'], author: NewRevision['author']) =>
    inTurn(async ({ id }, work) => {
      const { present: steps, basedOn, version } = work;
      const { data, error } = await keepRevision({ id, steps, note, author, basedOn, version });
      if (data) dispatch(rebased({ chainId: id, steps, basedOn: data.revision, version: data.version }));
      else sayRefused('No revision was kept', error, work);
      return data?.revision;
    }),
  );

  const refused = edited !== undefined && refusedAt === edited.version;
  useEffect(() => {
    leaving.current = null;
    if (!chain || !edited || refused || edited.present === edited.saved) return;
    const { present, basedOn, version } = edited;
    leaving.current = () => saveAtOnce(chain.id, { steps: present, basedOn, author: personName() }, version);
    const timer = setTimeout(() => {
      leaving.current = null;
      void inTurn(save);
    }, SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [chain, edited, refused, inTurn, save]);

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
  if (!refused || !chain || chain.version <= edited.version) return { edited, keep };
  const { id: chainId, revision: basedOn, version } = chain;
  return {
    edited,
    keep,
    conflict: {
      author: chain.draft?.author ?? '',
      takeTheirs: () => dispatch(yielded({ chainId, ...standing(chain) })),
      keepMine: () => dispatch(insisted({ chainId, basedOn, version })),
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
  void fetch(pathOf(ROUTES.saveDraft, { id }), {
    method: ROUTES.saveDraft.method.toUpperCase(),
    keepalive: true,
    headers: { 'content-type': 'application/json', ...ifSeen(version) },
    body: JSON.stringify(draft),
  }).catch(() => {}); // nobody is there to be told
}
