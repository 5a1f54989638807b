import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { type Held, NOTHING_HELD } from '../holding.ts';

/** What a chain is looked at with, by the chain's id. */
export interface Watched {
  /** Recordings that the ledger is made of; the first one is shown row by row, the others by their end. */
  recordingIds: string[];
  targetId: string | null;
  /** Only the stretch is measured until somebody asks for more. */
  held: boolean;
  /** Advice that is not for this chain. */
  dismissed: string[];
  /** What is not heard and not measured while it is changed. */
  holding: Held;
}

export const MOST_EXAMPLES = 4;
export const NOTHING_WATCHED: Watched = {
  recordingIds: [],
  targetId: null,
  held: false,
  dismissed: [],
  holding: NOTHING_HELD,
};

type On<T> = PayloadAction<{ chainId: string } & T>;

export const exampleSlice = createSlice({
  name: 'example',
  initialState: {} as Record<string, Watched>,
  reducers: {
    watched: (state, { payload: { chainId, ...part } }: On<Partial<Watched>>) => {
      state[chainId] = { ...(state[chainId] ?? NOTHING_WATCHED), ...part };
    },
    dismissed: (state, { payload: { chainId, advice } }: On<{ advice: string }>) => {
      const chain = state[chainId] ?? NOTHING_WATCHED;
      state[chainId] = { ...chain, dismissed: [...chain.dismissed, advice] };
    },
  },
});
