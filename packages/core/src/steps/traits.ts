import type { Findings } from './findings.ts';

/**
 * What others must know of a step to advise on it, to foretell it or to draw it: they ask for this, never for its name. Where a trait
 * is a setting, it is that setting's key, so that advice can change it.
 */
export interface StepTraits<S> {
  /** Its gain rides on the level: low sound drives it, and the level of the room moves with it. */
  readonly ridesLevel?: true;
  /** Bends the wave, so that flat tops and jumps are no longer what they were. */
  readonly bendsWave?: true;
  /** Looks for faults of the wave as it was recorded. */
  readonly needsWaveAsRecorded?: true;
  /** Rebuilds flat tops. */
  readonly mendsClipping?: true;
  /** Brings the level to what its settings say, whatever it was. */
  readonly setsLevel?: true;
  /** Brings quieter speech to the level of louder speech. */
  readonly evensSpeech?: true;
  /** The frequency under which nothing is left, Hz. */
  readonly cutsBelow?: keyof S & string;
  /** The level under which it turns down, dB. */
  readonly closesUnder?: keyof S & string;
  /** What no peak goes over, dBTP. */
  readonly holdsPeaksUnder?: keyof S & string;
  /** By how much it takes the noise down, dB. */
  readonly reducesNoiseBy?: keyof S & string;
  /** The level over which it turns down, and how many decibels become one. */
  readonly compresses?: { readonly over: keyof S & string; readonly ratio: keyof S & string };
  /** Brings the ends of a recording up from nothing and down to it. */
  readonly fadesEnds?: true;
  /** Adds the sound of a room, which rises over the dry peaks. */
  readonly addsRoom?: true;
  /** The longest pause that is left, s. */
  readonly longestPause?: keyof S & string;
  /** Of steps that change how long a signal is: the longest that one of so many seconds can become. */
  longest?(settings: S, seconds: number): number;
  /** By how much it can raise the level, dB. */
  raisesDb?(settings: S): number;
  /** The most that it lifts a part of the spectrum, dB. */
  boostsDb?(settings: S): number;
  /** Whether it learns from room tone under these settings. */
  usesRoomTone?(settings: S): boolean;
  /** With these it runs before anything was studied, and follows the recording instead. */
  readonly unstudied?: Findings;
}
