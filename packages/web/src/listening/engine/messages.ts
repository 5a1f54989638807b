import type { MeterReading, SpectralBox, TimeSpan } from '@tonos/core';
import type { RingMemory } from './shared-ring.ts';

/** The wire between the page and the feeding worker: one tagged union a direction. */

/** A file whose samples are asked for in stretches. */
export interface Track {
  /** Answers `from=FRAME&frames=N`. */
  url: string;
  sampleRateHz: number;
  channels: number;
  frames: number;
  /** Turned down on the way. */
  boxes: SpectralBox[];
}

/** From where, in which file, how loud, and what is repeated. */
export interface Going {
  track: Track;
  seconds: number;
  loop: TimeSpan | null;
  gainDb: number;
}

export type ToFeeder =
  | { type: 'start'; ring: RingMemory; rateHz: number }
  | ({ type: 'go'; asked: number } & Going)
  /** A snippet at a place, for finding by ear. */
  | { type: 'snippet'; asked: number; track: Track; seconds: number; gainDb: number };

/** Frames are the ring's. */
export type FromFeeder =
  /** From this frame on, the sound comes from this place. */
  | { type: 'place'; asked: number; frame: number; seconds: number }
  | { type: 'reading'; asked: number; frame: number; reading: MeterReading }
  | { type: 'end'; asked: number; frame: number }
  | { type: 'trouble'; message: string };
