import type {
  ChainStep,
  Findings,
  GainLine,
  MeterReading,
  RoomToneChoice,
  SoundingPart,
  SpectralBox,
  TimeCut,
  TimeMap,
  TimeSpan,
} from '@tonos/core';
import type { RingMemory } from './shared-ring.ts';

/** The wire between the page and the feeding worker: one tagged union a direction. */

/** A file whose samples are asked for in stretches. */
export interface FileTrack {
  /** Answers `from=FRAME&frames=N`. */
  url: string;
  sampleRateHz: number;
  channels: number;
  frames: number;
  /** Turned down on the way. */
  boxes: SpectralBox[];
  /** What was done to its time by hand, made on the way. */
  cut?: CutTrack;
}

/** What is listened to. */
export interface Track extends FileTrack {
  /** Steps that are heard while they are edited. */
  live?: LiveSteps;
  /** Made of other tracks, where it is a programme; there is no file then. */
  programme?: LiveProgramme;
}

/** A running order as it is heard while it is edited. */
export interface LiveProgramme {
  /** Those that are to be heard. */
  groups: LiveGroup[];
  /** The chain of the whole. */
  live?: LiveSteps;
}

export interface LiveGroup {
  parts: LivePart[];
  gainDb: number;
  /** How it gives way, in the programme's time. */
  lines: GainLine[];
  live?: LiveSteps;
}

export interface LivePart {
  track: FileTrack;
  /** Where its cuts bring the recording's moments. */
  map: TimeMap;
  /** Where its stretch begins, with the cuts made. */
  fromSeconds: number;
  /** At the programme's rate. */
  placed: SoundingPart;
  /** That brings it to its level. */
  levelDb: number;
  live?: LiveSteps;
}

/** What a recording's cuts are made from. */
export interface CutTrack {
  /** Those that are on, in order. */
  cuts: TimeCut[];
  /** Where the recording's own room sounds. */
  roomTone: TimeSpan[];
  /** The recordings of pick-ups, by their ids; without one that is gone its pick-up is silent. */
  pickUps: Readonly<Record<string, Pick<Track, 'url' | 'sampleRateHz' | 'channels' | 'frames'>>>;
}

/** What people marked in the recording. */
export interface Known {
  marks: { name: string; startSeconds: number; endSeconds: number }[];
  roomTone?: RoomToneChoice;
}

export interface LiveSteps {
  /** Those to be heard, in order; each has its id. */
  steps: ChainStep[];
  /** By step id. */
  findings: Readonly<Record<string, Findings>>;
  /** Where in the recording the findings' own time begins. */
  findingsFromSeconds: number;
  known: Known;
  /** What the last step takes away, instead of what it leaves. */
  removed: boolean;
  /** What steps leave out, in the recording's time, in order: the sound goes on behind it. */
  skips?: TimeSpan[];
}

/** What each step does, by its id. */
export type Traces = Readonly<Record<string, Readonly<Record<string, number>>>>;

/** From where, in which file, how loud, and what is repeated. */
export interface Going {
  track: Track;
  seconds: number;
  loop: TimeSpan | null;
  gainDb: number;
}

export type ToFeeder =
  | { type: 'start'; ring: RingMemory; rateHz: number; watch: Int32Array }
  | ({ type: 'go'; asked: number } & Going)
  /** The same track with other steps, or another programme, at another level, from the next sample on. */
  | { type: 'change'; asked: number; track: Track; gainDb: number }
  /** A snippet at a place, for finding by ear. */
  | { type: 'snippet'; asked: number; track: Track; seconds: number; gainDb: number };

/** Frames are the ring's. */
export type FromFeeder =
  /** From this frame on, the sound comes from this place, and so many of its seconds go into one. */
  | { type: 'place'; asked: number; frame: number; seconds: number; speed: number }
  | { type: 'reading'; asked: number; frame: number; reading: MeterReading; traces: Traces }
  | { type: 'end'; asked: number; frame: number }
  | { type: 'trouble'; message: string };
