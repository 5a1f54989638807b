import * as z from 'zod';
import { limitResult } from './measurement.ts';
import { newOrderRun, newRun } from './run.ts';

/** The same as for a run: nothing is started. */
export const forecastQuestion = newRun.or(newOrderRun);

/** One line of the answer: first what the run needs, then a line for each recording or programme, then the end. */
export const forecastLine = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('needs'),
    /** At most, while it runs and after it. */
    diskBytes: z.number(),
    freeBytes: z.number(),
    soundSeconds: z.number(),
    /** Names that two recordings would deliver alike: later ones get a number. */
    collisions: z.array(z.string()),
  }),
  z.object({
    type: z.literal('recording'),
    recordingId: z.string(),
    name: z.string(),
    /** null where nothing can be foretold; the notes say why. */
    within: z.boolean().nullable(),
    gainDb: z.number(),
    limitedDb: z.number(),
    limits: z.array(limitResult),
    notes: z.array(z.string()),
    /** Of a programme: how long it will be, null where it can't be put together; and what it lacks. */
    lengthSeconds: z.number().nullable().optional(),
    lacks: z.array(z.string()).optional(),
  }),
  z.object({
    type: z.literal('done'),
    /** How long the run will take, by how long the excerpts took. */
    seconds: z.number().nullable(),
  }),
]);

export type ForecastQuestion = z.output<typeof forecastQuestion>;
export type ForecastLine = z.output<typeof forecastLine>;
