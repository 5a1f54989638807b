import type * as z from 'zod';
import type { Curve } from '../dsp/frequency-curve.ts';
import type { Processor } from '../dsp/processor.ts';
import type { RoomToneChoice, TimeSpan } from '../measure/room-tone-choice.ts';
import type { Block, CancelSignal, SignalFormat, Source } from '../signal/signal.ts';
import type { TimeMap } from '../time/time-map.ts';
import type { Findings } from './findings.ts';
import type { Handle } from './handles.ts';
import type { StepTraits } from './traits.ts';

export { noTrace, type Processor } from '../dsp/processor.ts';

export type { Findings } from './findings.ts';

/** Hears the whole signal, as it arrives at the step, before the first block is processed. */
export interface Study<F extends Findings = Findings> {
  hear(block: Block): void;
  conclude(): F;
}

/** What is known of a recording beforehand, from people who listened to it. */
export interface KnownOfRecording {
  readonly roomTone?: RoomToneChoice;
  /** The names that a step's scope may call. */
  readonly marks?: readonly { name: string; startSeconds: number; endSeconds: number }[];
}

export type StepGroup = 'repair' | 'tone' | 'dynamics' | 'level' | 'layout' | 'time';

/** Moves moments: what it makes of a signal can be shorter or longer, and no block of it has a counterpart. */
export interface Retimer {
  /** From the seconds of what comes in to those of what it makes. */
  readonly map: TimeMap;
  /** What comes of the next block. Blocks are only lent, both ways. */
  process(block: Block): Iterable<Block>;
  /** What is still inside. */
  flush(): Iterable<Block>;
}

/** What a step that retimes may read before it begins: the signal that arrives at it, from its start. */
export interface Material {
  readonly source: Source;
  readonly signal?: CancelSignal;
  /** The marks that the step is kept to, in the time of what arrives: moments outside of them stay together. Everywhere, where there are none. */
  readonly within?: readonly TimeSpan[];
}

/** Whether a stretch is one that a step may change. */
export const isWithin = ({ within }: Material, { startSeconds, endSeconds }: TimeSpan): boolean =>
  within === undefined || within.some((span) => startSeconds >= span.startSeconds && endSeconds <= span.endSeconds);

/** The same pace for all of a sound. */
export interface EvenPace {
  /** 1 as it is, 2 twice as fast. */
  tempo: number;
  /** @param frames of the stretch that goes in */
  start(frames: number): Retimer;
}

export interface ShortenedPause {
  startSeconds: number;
  beforeSeconds: number;
  afterSeconds: number;
}

export interface StepCurves<S, F extends Findings> {
  /** Gain in dB over frequency in Hz. */
  response?(settings: S, findings: F): Curve;
  /** Level out over level in, both in dBFS, once everything has settled. */
  transfer?(settings: S): (levelDb: number) => number;
  /** The points of the response that can be moved. */
  handles?(settings: S): Handle<S>[];
  /** What becomes of each pause, in the time of what arrives. */
  pauses?(settings: S, findings: F): ShortenedPause[];
  /** The factor of a moment of what arrives. */
  envelope?(settings: S, findings: F): (seconds: number) => number;
  /** How a room dies away after a short sound, in dB under where it begins, for some frequencies. */
  decay?(settings: S): { hz: number; levelDb(seconds: number): number; endSeconds: number }[];
}

export interface StepDefinition<S = unknown, F extends Findings = Findings> {
  readonly kind: string;
  readonly title: string;
  readonly group: StepGroup;
  /** One sentence: what the step is for. */
  readonly summary: string;
  /** Everyday words by which it is found: "rumble", "hiss". */
  readonly words: readonly string[];
  readonly settings: z.ZodType<S>;
  /** The settings in one short line, such as "3 : 1 over -18 dB". */
  describe(settings: S): string;
  readonly traces?: Readonly<Record<string, { title: string; unit: string }>>;
  readonly traits?: StepTraits<S>;
  /** What pictures of the step show, as data. */
  readonly curves?: StepCurves<S, F>;
  /** Present where the step changes the number of channels. */
  outputChannels?(settings: S, channels: number, findings: F): number;
  /** Present where the step must hear the whole signal first. */
  study?(settings: S, format: SignalFormat, known: KnownOfRecording): Study<F>;
  /**
   * Present where recordings of one session must come to the same: what each of them has for what all found, in the time that they
   * share. A pause is one only where all are silent.
   */
  together?(all: readonly F[]): F[];
  /** Whether findings have their place in the recording's time, so that they serve no other stretch of it. */
  readonly findingsInTime?: boolean;
  /** Whether the study is of what lies in the step's scope only: a level that is set there is that of what is there. */
  readonly studiesScope?: boolean;
  /** Counted up whenever a study finds otherwise, or says it otherwise: findings of another count are not handed on. From 1. */
  readonly findingsVersion?: number;
  /** What of the settings the study hangs on: findings serve all others too. All of them, where it is left out. */
  studied?(settings: S): unknown;
  /** Whether the study is needed under these settings; without it the findings are empty. */
  needsStudy?(settings: S): boolean;
  /**
   * Present where the step moves moments. It is heard whole first, by a study; `start` leaves the sound as it is. What it does has no
   * mix.
   */
  retime?(settings: S, format: SignalFormat, findings: F, material: Material): Retimer | Promise<Retimer>;
  /**
   * Of one that retimes: where it changes the pace evenly, how fast it goes, and a retimer for a stretch by itself. Who listens while it is
   * edited hears that. Undefined where it leaves the pace as it is.
   */
  evenly?(settings: S, findings: F, format: SignalFormat): EvenPace | undefined;
  /** Of one that retimes: the stretches that it leaves out, in the time of what arrives. Who listens while it is edited does not hear them. */
  leftOut?(settings: S, findings: F, sampleRateHz: number): TimeSpan[];
  /** @param firstFrame of the recording that the processor hears first, for those whose findings have their place in time */
  start(settings: S, format: SignalFormat, findings: F, firstFrame?: number): Processor<S>;
}

/** A definition whose settings type is no longer known: what the one list holds. */
// biome-ignore lint/suspicious/noExplicitAny: the list is heterogeneous; each entry was checked by defineStep
export type AnyStep = StepDefinition<any, any>;

export const defineStep = <S, F extends Findings = Findings>(definition: StepDefinition<S, F>): StepDefinition<S, F> =>
  definition;
