import { createSlice, type Draft, type PayloadAction } from '@reduxjs/toolkit';
import { type ChainStep, type Findings, type TimeMap, type TimeSpan, toResult, toSource } from '@tonos/core';
import type { Known, LiveSteps, Track } from './engine/messages.ts';
import { skipsOf } from './skips-of.ts';

/** What is heard: the recording, what a run made of it, or what a chain under work makes of it. */
export type Side = 'source' | 'result' | LiveSide;
/** Up to the chosen step, all of the chain, and what the chosen step takes away. */
export type LiveSide = 'so-far' | 'chain' | 'removed';

/** A chain under work, as far as listening is concerned. */
export interface ChainListening {
  /** Those that are on. */
  steps: (ChainStep & { id: string })[];
  /** The chosen step, among them. */
  upTo: string | null;
  findings: Readonly<Record<string, Findings>>;
  findingsFromSeconds: number;
  known: Known;
  /** Loudness of the recording and after each step, over the same stretch; null where it is not known. */
  sourceLufs: number | null;
  afterLufs: Readonly<Record<string, number | null>>;
}

export interface Playable {
  track: Track;
  /** Where its picture is asked for; null where there is none. */
  overview: { recordingId: string } | { runId: string; itemId: string; sha256: string } | null;
  loudnessLufs: number | null;
  seconds: number;
  /** Of a result: where the source's moments lie in it; none where they stayed. */
  timeMap?: TimeMap;
}

/** One thing to listen to: a recording, and what a run made of it. */
export interface Listened {
  name: string;
  source: Playable;
  result: Playable | null;
  /** A chain that is being edited with this recording as its example. */
  chain?: ChainListening;
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
      state.listened = payload.listened as Draft<Listened>;
      state.side = payload.side;
      state.playing = true;
      state.loop = null;
      state.seekAsked = { seconds: payload.fromSeconds ?? 0, snippet: false };
    },
    /** The same recording, otherwise: its boxes have changed. */
    sourceChanged: (state, { payload }: PayloadAction<Playable>) => {
      if (state.listened) state.listened.source = payload as Draft<Playable>;
    },
    /** The chain under work has changed, or more is known of what it does. */
    chainChanged: (state, { payload }: PayloadAction<ChainListening>) => {
      if (state.listened) state.listened.chain = payload;
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
    sideChosen: {
      /** @param seconds where the sound is now: the same word is heard on the other side, and repeated there */
      prepare: (side: Side, seconds?: number) => ({ payload: { side, seconds } }),
      reducer: (state, { payload: { side, seconds } }: PayloadAction<{ side: Side; seconds: number | undefined }>) => {
        const { listened, loop } = state;
        const there = side === 'source' || (side === 'result' ? listened?.result : listened?.chain);
        if (!listened || !there) return;
        const moved = (at: number) => movedTo(listened, state.side, side, at);
        const same = seconds === undefined ? undefined : moved(seconds);
        if (same !== undefined && same !== seconds) state.seekAsked = { seconds: same, snippet: false };
        if (loop) {
          const [startSeconds, endSeconds] = [moved(loop.startSeconds), moved(loop.endSeconds)];
          // what was taken out can't be repeated
          state.loop = endSeconds > startSeconds ? { startSeconds, endSeconds } : null;
        }
        state.side = side;
      },
    },
    levelMatchChanged: (state, { payload }: PayloadAction<boolean>) => {
      state.levelMatched = payload;
    },
    deviceChosen: (state, { payload }: PayloadAction<string>) => {
      state.deviceId = payload;
    },
  },
});

/** Where a moment of one side lies on another. */
function movedTo({ result }: Pick<Listened, 'result'>, from: Side, to: Side, seconds: number): number {
  const map = result?.timeMap;
  if (!map || (from === 'result') === (to === 'result')) return seconds;
  return to === 'result' ? toResult(map, seconds) : toSource(map, seconds);
}

/** What sounds of the two sides. */
export const playableOf = ({ source, result }: Listened, side: Side): Playable =>
  side === 'result' && result ? result : source;

/** The steps that sound on a side; undefined where it is the recording itself. */
export function liveOf({ chain, source }: Listened, side: Side): LiveSteps | undefined {
  if (!chain || side === 'source' || side === 'result') return undefined;
  const end = chain.steps.findIndex(({ id }) => id === chain.upTo) + 1;
  const steps = side === 'chain' || end === 0 ? chain.steps : chain.steps.slice(0, end);
  const { findings, findingsFromSeconds, known } = chain;
  const { sampleRateHz } = source.track;
  const skips = side === 'removed' ? [] : skipsOf(steps, chain, { sampleRateHz, seconds: source.seconds });
  return { steps, findings, findingsFromSeconds, known, removed: side === 'removed', skips };
}
