import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { TimeSpan } from '@tonos/core';
import type { Track } from './engine/messages.ts';

export type Side = 'source' | 'result';

export interface Playable {
  track: Track;
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

/** Asked by a page: go there. A new object each time. */
export interface SeekAsked {
  seconds: number;
  /** Only a short piece, while somebody looks for a place by ear. */
  snippet: boolean;
}

export interface ListeningState {
  listened: Listened | null;
  side: Side;
  playing: boolean;
  levelMatched: boolean;
  /** What is repeated. */
  loop: TimeSpan | null;
  seekAsked: SeekAsked | null;
  /** The sound device, '' for the system's own choice. */
  deviceId: string;
}

const initialState: ListeningState = {
  listened: null,
  side: 'source',
  playing: false,
  levelMatched: true,
  loop: null,
  seekAsked: null,
  deviceId: '',
};

export const listeningSlice = createSlice({
  name: 'listening',
  initialState,
  reducers: {
    listened: (state, { payload }: PayloadAction<{ listened: Listened; side: Side; fromSeconds?: number }>) => {
      state.listened = payload.listened;
      state.side = payload.side;
      state.playing = true;
      state.loop = null;
      state.seekAsked = { seconds: payload.fromSeconds ?? 0, snippet: false };
    },
    /** The same recording, otherwise: its boxes have changed. */
    sourceChanged: (state, { payload }: PayloadAction<Playable>) => {
      if (state.listened) state.listened.source = payload;
    },
    seekAsked: (state, { payload: seconds }: PayloadAction<number>) => {
      state.seekAsked = { seconds: Math.max(0, seconds), snippet: false };
    },
    /** Finding a place by ear: while nothing plays, a short piece of it sounds. */
    scrubbed: (state, { payload: seconds }: PayloadAction<number>) => {
      state.seekAsked = { seconds: Math.max(0, seconds), snippet: !state.playing };
    },
    loopChosen: (state, { payload }: PayloadAction<TimeSpan | null>) => {
      state.loop = payload;
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
    deviceChosen: (state, { payload }: PayloadAction<string>) => {
      state.deviceId = payload;
    },
  },
});

/** What sounds of the two sides. */
export const playableOf = ({ source, result }: Listened, side: Side): Playable =>
  side === 'result' && result ? result : source;
