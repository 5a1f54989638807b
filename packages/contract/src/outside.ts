import * as z from 'zod';
import { timeMap } from './time-map.ts';

/** Sound from outside that stands for a recording with a chain's first steps: the steps behind use it. */
export const frozenSound = z.object({
  /** The step behind which it stands. */
  stepId: z.string(),
  /** As its file was called. */
  name: z.string(),
  sha256: z.string(),
  /** From the recording's seconds to its own. */
  timeMap,
  /** Of what it was made from, as a hash: another one says that it is older than what it stands for. */
  basis: z.string(),
  at: z.string(),
});

/** `tonos.outside/1`: what lies beside a file that went out, for the program that takes it. */
export const outsideFile = z.object({
  format: z.literal('tonos.outside/1'),
  id: z.string(),
  /** Under this name it comes back. */
  file: z.string(),
  /** And to this place. */
  back: z.string(),
  title: z.string(),
  recording: z.string(),
  place: z.union([
    z.literal('before the chain'),
    z.object({ chain: z.string(), after: z.string(), stepId: z.string() }),
  ]),
  sampleRateHz: z.number().int(),
  channels: z.number().int(),
  frames: z.number().int(),
});

/** From where sound goes out: a recording as it came, or as it is after a step of a chain. */
export const newOuting = z
  .strictObject({
    recordingIds: z.array(z.string()).min(1).max(1000),
    chainId: z.string().nullable().default(null),
    /** The chain as it stands, or its draft, as it is under work. */
    stepId: z.string().nullable().default(null),
  })
  .refine(({ chainId, stepId }) => (chainId === null) === (stepId === null), {
    message: 'A step goes with its chain.',
  });

export const OUTING_STATES = ['making', 'failed', 'out', 'coming', 'refused', 'back'] as const;

/** Sound that went out to another program, and comes back to its place. */
export const outing = z.object({
  id: z.string(),
  recordingId: z.string(),
  recordingName: z.string(),
  titleId: z.string(),
  /** Null: before every chain. */
  chainId: z.string().nullable(),
  chainName: z.string().nullable(),
  stepId: z.string().nullable(),
  stepTitle: z.string().nullable(),
  /** Of the file, out and back. */
  fileName: z.string(),
  /** `making`: being written; `out`: with the other program; `coming`: it is being written back; `back`: laid in. */
  state: z.enum(OUTING_STATES),
  /** Why it failed or was refused; of what came back, what is other than what went out. */
  note: z.string(),
  seconds: z.number().nullable(),
  sampleRateHz: z.number().nullable(),
  channels: z.number().nullable(),
  createdAt: z.string(),
  backAt: z.string().nullable(),
  /** Whether its sound stands in its place now. */
  laidIn: z.boolean(),
  /** Whether what it was made from is another now. */
  isOlder: z.boolean(),
});

export const outings = z.object({
  outings: z.array(outing),
  /** Where files go, and where they come back to. */
  folder: z.object({ out: z.string(), back: z.string(), trouble: z.string().nullable() }),
  /** Files that came back under a name that nothing went out by. */
  strangers: z.array(z.string()),
});

export type FrozenSound = z.output<typeof frozenSound>;
export type NewOuting = z.output<typeof newOuting>;
export type Outing = z.output<typeof outing>;
export type Outings = z.output<typeof outings>;
export type OutsideFile = z.output<typeof outsideFile>;
