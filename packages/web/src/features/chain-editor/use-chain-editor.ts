import { type Chain, type NewDraft, ROUTES } from '@tonos/contract';
import { useMemo } from 'react';
import { useStore } from 'react-redux';
import { api } from '../../api/api.ts';
import { type RootState, useAppDispatch, useAppSelector } from '../../app/store.ts';
import { type DraftKeeping, useDraft } from '../../editing/use-draft.ts';
import { chainEditorSlice, type EditedChain, type EditedStep } from './chain-slice.ts';

const { opened, stored, rebased, yielded, insisted } = chainEditorSlice.actions;

export interface ChainEditor extends DraftKeeping {
  edited?: EditedChain;
}

/** The chain under work. */
export function useChainEditor(chain: Chain | undefined): ChainEditor {
  const dispatch = useAppDispatch();
  const { getState } = useStore<RootState>();
  const chainId = chain?.id ?? '';
  const edited = useAppSelector((state) => state.chainEditor[chainId]);
  const [saveDraft] = api.useSaveDraftMutation();
  const [dropDraft] = api.useDropDraftMutation();
  const [keepRevision] = api.useKeepRevisionMutation();
  const kept = useMemo(
    () =>
      chain && {
        ...chain,
        by: chain.revisions[0].author,
        content: chain.steps as EditedStep[],
        draft: chain.draft && { ...chain.draft, content: chain.draft.steps as EditedStep[] },
      },
    [chain],
  );
  const keeping = useDraft<EditedStep[]>({
    what: 'chain',
    tag: 'Chains',
    kept,
    edited,
    present: () => getState().chainEditor[chainId],
    on: {
      opened: ({ content: steps, ...rest }) => dispatch(opened({ chainId, steps, ...rest })),
      stored: (steps, version) => dispatch(stored({ chainId, steps, version })),
      rebased: ({ content: steps, ...rest }) => dispatch(rebased({ chainId, steps, ...rest })),
      yielded: ({ content: steps, ...rest }) => dispatch(yielded({ chainId, steps, ...rest })),
      insisted: (basedOn, version) => dispatch(insisted({ chainId, basedOn, version })),
    },
    calls: {
      draft: ROUTES.saveDraft,
      body: ({ content: steps, ...rest }) => ({ steps, ...rest }),
      save: (id, version, draft) => saveDraft({ id, version, ...(draft as NewDraft) }),
      drop: (id, version) => dropDraft({ id, version }),
      keep: (id, { content: steps, ...rest }) => keepRevision({ id, steps, ...rest }),
    },
  });
  return { edited, ...keeping };
}
