import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type Side = 'source' | 'result';

export interface Playable {
  url: string;
  /** Where its picture is asked for. */
  overview: { recordingId: string } | { runId: string; itemId: string; sha256: string };
  loudnessLufs: number | null;
  seconds: number;
}

/** One thing to listen to: a recording, and what a run made of it. */
export interface Listened {
  name: string;
  source: Playable;
  result: Playable | null;
}

export interface ListeningState {
  listened: Listened | null;
  side: Side;
  playing: boolean;
  levelMatched: boolean;
  /** Asked by a page: go there. A new object each time. */
  seekAsked: { seconds: number } | null;
}

const initialState: ListeningState = {
  listened: null,
  side: 'source',
  playing: false,
  levelMatched: true,
  seekAsked: null,
};

export const listeningSlice = createSlice({
  name: 'listening',
  initialState,
  reducers: {
    listened: (state, { payload }: PayloadAction<{ listened: Listened; side: Side; fromSeconds?: number }>) => {
      state.listened = payload.listened;
      state.side = payload.side;
      state.playing = true;
      state.seekAsked = payload.fromSeconds === undefined ? null : { seconds: payload.fromSeconds };
    },
    seekAsked: (state, { payload: seconds }: PayloadAction<number>) => {
      state.seekAsked = { seconds };
    },
    playingChanged: (state, { payload }: PayloadAction<boolean>) => {
      state.playing = payload;
    },
    sideChosen: (state, { payload }: PayloadAction<Side>) => {
      if (payload === 'source' || state.listened?.result) state.side = payload;
    },
    levelMatchChanged: (state, { payload }: PayloadAction<boolean>) => {
      state.levelMatched = payload;
    },
  },
});
