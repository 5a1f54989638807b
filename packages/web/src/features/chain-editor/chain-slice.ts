import { createSlice, nanoid, type PayloadAction } from '@reduxjs/toolkit';
import type { ChainStep } from '@tonos/core';
import { begun, change, type Edited, redo, undo } from '../../editing/history.ts';

/** A step that is being edited has an id for sure. */
export type EditedStep = ChainStep & { id: string };

export type EditedChain = Edited<EditedStep[]>;

const withId = (step: ChainStep): EditedStep => ({ ...step, id: step.id ?? nanoid(8) });

/** How a chain stands on the server. */
interface Standing {
  steps: readonly ChainStep[];
  basedOn: number;
  version: number;
}

type On<T> = PayloadAction<{ chainId: string } & T>;

/** Chains as they are being edited, by id, each with its own undo. */
export const chainEditorSlice = createSlice({
  name: 'chainEditor',
  initialState: {} as Record<string, EditedChain>,
  reducers: {
    opened: (state, { payload: { chainId, steps, basedOn, version } }: On<Standing>) => {
      state[chainId] = begun(steps.map(withId), basedOn, version);
    },
    /** The server holds what was sent. */
    stored: (state, { payload: { chainId, steps, version } }: On<{ steps: EditedStep[]; version: number }>) => {
      const chain = state[chainId];
      if (chain) Object.assign(chain, { saved: steps, version });
    },
    /** After keeping: the same steps, based on the new revision; undo still reaches back. */
    rebased: (
      state,
      { payload: { chainId, ...kept } }: On<{ steps: EditedStep[]; basedOn: number; version: number }>,
    ) => {
      const chain = state[chainId];
      if (chain) Object.assign(chain, { basedOn: kept.basedOn, version: kept.version, saved: kept.steps });
    },
    /** Somebody else's work takes the place of one's own; undo brings that back. */
    yielded: (state, { payload: { chainId, steps, basedOn, version } }: On<Standing>) => {
      const chain = state[chainId];
      change(chain, steps.map(withId), null);
      Object.assign(chain, { basedOn, version, saved: chain.present });
    },
    /** One's own work is saved over somebody else's, knowingly. */
    insisted: (state, { payload: { chainId, basedOn, version } }: On<{ basedOn: number; version: number }>) => {
      Object.assign(state[chainId], { basedOn, version });
    },
    replaced: (state, { payload: { chainId, steps } }: On<{ steps: readonly ChainStep[] }>) => {
      change(state[chainId], steps.map(withId), null);
    },
    added: {
      prepare: (payload: {
        chainId: string;
        kind: string;
        at: number;
        settings: Record<string, unknown>;
        id?: string;
      }) => ({ payload: { id: nanoid(8), ...payload } }),
      reducer: (
        state,
        {
          payload: { chainId, kind, at, settings, id },
        }: On<{ kind: string; at: number; settings: Record<string, unknown>; id: string }>,
      ) => {
        const chain = state[chainId];
        change(chain, chain.present.toSpliced(at, 0, { id, kind, on: true, mix: 1, settings }), null);
      },
    },
    /** Steps from elsewhere: each gets an id of its own. */
    inserted: {
      prepare: (payload: { chainId: string; at: number; steps: readonly ChainStep[] }) => ({
        payload: { ...payload, steps: payload.steps.map((step) => ({ ...step, id: nanoid(8) })) },
      }),
      reducer: (state, { payload: { chainId, at, steps } }: On<{ at: number; steps: EditedStep[] }>) => {
        const chain = state[chainId];
        change(chain, chain.present.toSpliced(at, 0, ...steps), null);
      },
    },
    removed: (state, { payload: { chainId, id } }: On<{ id: string }>) => {
      const chain = state[chainId];
      change(
        chain,
        chain.present.filter((step) => step.id !== id),
        null,
      );
    },
    moved: (state, { payload: { chainId, id, to } }: On<{ id: string; to: number }>) => {
      const chain = state[chainId];
      const from = chain.present.findIndex((step) => step.id === id);
      if (from < 0 || to < 0 || to >= chain.present.length || to === from) return;
      change(chain, chain.present.toSpliced(from, 1).toSpliced(to, 0, chain.present[from]), null);
    },
    edited: (
      state,
      {
        payload: { chainId, id, part, touched },
      }: On<{
        id: string;
        part: Partial<Pick<ChainStep, 'on' | 'mix' | 'settings' | 'scope' | 'note'>>;
        touched: string | null;
      }>,
    ) => {
      const chain = state[chainId];
      const steps = chain.present.map((step) => (step.id === id ? { ...step, ...part } : step));
      change(chain, steps, touched && `${id}/${touched}`);
    },
    undone: (state, { payload: { chainId } }: On<object>) => undo(state[chainId]),
    redone: (state, { payload: { chainId } }: On<object>) => redo(state[chainId]),
  },
});
