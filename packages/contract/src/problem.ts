import * as z from 'zod';

/** RFC 9457 problem details. `code` is a stable word for programs; `detail` says what happened, to what, and what to do. */
export const problem = z.looseObject({
  type: z.string().default('about:blank'),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  code: z.string(),
});

export type Problem = z.output<typeof problem>;

/** Why one recording or item could not be read or processed. */
export const fileProblem = z.looseObject({ code: z.string(), message: z.string() });
export type FileProblem = z.output<typeof fileProblem>;
