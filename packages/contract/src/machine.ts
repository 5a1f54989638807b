import type { EarlierRun } from '@tonos/core';
import * as z from 'zod';
import { limitResult, measurement, overview } from './measurement.ts';
import { fileProblem } from './problem.ts';
import { recipeInput } from './recipe.ts';
import { stepReport } from './run.ts';
import { timeMap } from './time-map.ts';

/** Machines that work along: what people see of them, and what they and the server say to each other. */

const name = z.string().trim().min(1, 'Give it a name.').max(100);

export const machineState = z.enum(['working', 'resting', 'draining', 'refused', 'lost']);

export const machine = z.object({
  id: z.string(),
  name: z.string(),
  version: z.string(),
  threads: z.number().int(),
  state: machineState,
  /** Why it is refused or lost, or takes no work by itself. */
  reason: z.string().nullable(),
  /** Items that it renders now. */
  doing: z.array(z.object({ runId: z.string(), itemId: z.string() })),
  /** How many recordings it measures now. */
  measuring: z.number().int(),
  /** Of late: seconds of sound over seconds of work, all its threads together. */
  timesRealTime: z.number().nullable(),
  cacheBytes: z.number(),
  cacheLimitBytes: z.number(),
  lastHeardAt: z.string(),
});

export const machines = z.object({
  machines: z.array(machine),
  queue: z.object({ kind: z.enum(['process', 'redis']), status: z.enum(['ready', 'away']) }),
  /** The threads of the server itself. */
  here: z.object({ threads: z.number().int(), doing: machine.shape.doing, measuring: z.number().int() }),
  /** Pieces of work that nobody has taken yet. */
  waiting: z.number().int(),
});

export const newWorkerToken = z.strictObject({ name });
export const workerToken = z.object({ id: z.string(), name: z.string(), createdAt: z.string() });
export const workerTokenMade = workerToken.pick({ id: true }).extend({ token: z.string() });

/** SHA-256, in small hexadecimal digits. */
export const sha256 = z.string().regex(/^[0-9a-f]{64}$/, 'A SHA-256 has 64 digits from 0 to f.');

/** Checked, and handed on as it came: what a check does not know is not cut off. */
const asItIs = <Output>(schema: z.ZodType<Output>) =>
  z.custom<Output>((value) => schema.safeParse(value).success, 'It does not have the form that it should.');

export const hello = z.strictObject({
  /** Made by the machine itself, once. */
  id: z.uuid(),
  name,
  version: z.string().max(50),
  threads: z.number().int().min(1).max(1024),
  cacheLimitBytes: z.number().min(0),
});

/** How a machine stands with the server. */
export const standingOfMachine = z.object({
  /** `unknown`: it has to say hello again. */
  state: z.enum(['in', 'draining', 'refused', 'unknown']),
  reason: z.string().nullable(),
  /** The queue that rings for it, where there is one. */
  queue: z.string().nullable(),
});

const byMachine = z.strictObject({ machine: z.string() });

export const claimRequest = byMachine;

/** What is to be done: files are named by their hashes. The recipe is the payload of a render. */
export const jobPayload = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('measure'), name: z.string(), sha256 }),
  z.object({
    kind: z.literal('render'),
    /** One, or those of a set, which are rendered together. */
    members: z.array(
      z.object({
        name: z.string(),
        recipe: recipeInput,
        /** What was found in it before, where that still holds. */
        earlier: z.custom<EarlierRun>().optional(),
      }),
    ),
  }),
]);

/** A piece of work under a claim; null where nothing waits. */
export const claimed = z.object({ work: z.object({ fence: z.number().int(), payload: jobPayload }).nullable() });

export const beat = byMachine.extend({
  /** Why it takes no work. */
  resting: z.string().max(1000).nullable(),
  cacheBytes: z.number().min(0),
  /** What it has claimed, and how far it is. */
  jobs: z.array(z.strictObject({ fence: z.number().int(), share: z.number(), stage: z.string().max(100) })).max(10_000),
  /** It ends: all that it has goes back. */
  leaving: z.boolean().default(false),
});

export const beaten = standingOfMachine.extend({
  /** Claims that are void, or that nobody wants any more. */
  ended: z.array(z.number().int()),
  /** Whether work may wait. */
  waits: z.boolean(),
});

const failed = z.object({ type: z.literal('failed'), error: fileProblem });
const rendered = z.object({
  type: z.literal('rendered'),
  after: measurement,
  overview,
  findings: z.array(stepReport),
  timeMap,
  verdict: z.enum(['within', 'off-target']),
  limits: z.array(limitResult),
  copied: z.boolean(),
});
const measured = z.object({
  type: z.literal('measured'),
  measurement,
  overview,
  notes: z.object({ tags: z.record(z.string(), z.unknown()), marks: z.array(z.unknown()) }),
  copied: z.boolean(),
});

export const completion = byMachine.extend({
  fence: z.number().int(),
  seconds: z.number().min(0),
  /** Whether it takes the next piece at once. */
  takesNext: z.boolean().default(false),
  end: asItIs(
    z.discriminatedUnion('type', [
      measured,
      rendered,
      failed,
      z.object({ type: z.literal('set-rendered'), ends: z.array(z.discriminatedUnion('type', [rendered, failed])) }),
    ]),
  ),
  /** What was sent of it, by recording: hashes. */
  made: z.array(z.strictObject({ output: sha256, survey: sha256, copy: sha256 }).partial()).max(100),
});

export const release = byMachine.extend({ fence: z.number().int() });

/** What the server has of a file. */
export const sent = z.object({ isThere: z.boolean(), receivedBytes: z.number().int() });

export type Machine = z.output<typeof machine>;
export type Machines = z.output<typeof machines>;
export type MachineState = z.output<typeof machineState>;
export type WorkerToken = z.output<typeof workerToken>;
export type WorkerTokenMade = z.output<typeof workerTokenMade>;
export type JobPayload = z.output<typeof jobPayload>;
export type Hello = z.output<typeof hello>;
export type StandingOfMachine = z.output<typeof standingOfMachine>;
export type Beat = z.output<typeof beat>;
export type Beaten = z.output<typeof beaten>;
export type Completion = z.output<typeof completion>;
export type Claimed = z.output<typeof claimed>;
export type Sent = z.output<typeof sent>;
