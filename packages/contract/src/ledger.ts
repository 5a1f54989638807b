import { chainStep, LEDGER_MEASURES, type LedgerFigures } from '@tonos/core';
import * as z from 'zod';
import { stepReport } from './run.ts';

export const ledgerFigures = z.object(
  Object.fromEntries(LEDGER_MEASURES.map((measure) => [measure, z.number().nullable()])) as Record<
    keyof LedgerFigures,
    z.ZodNullable<z.ZodNumber>
  >,
);

/** Figures of the source, and after each step that is on. */
export const ledger = z.object({
  source: ledgerFigures,
  rows: z.array(z.object({ id: z.string(), figures: ledgerFigures, lengthSeconds: z.number() })),
});

export const ledgerQuestion = z.strictObject({ steps: z.array(chainStep).max(100) });

/** One line of the answer; the last one is `done` or `failed`. */
export const ledgerLine = z.discriminatedUnion('type', [
  z.object({ type: z.literal('progress'), share: z.number(), ledger: ledger.nullable() }),
  /** `reports` hold the full findings: with them the steps can run again without their studies. */
  z.object({ type: z.literal('done'), ledger, reports: z.array(stepReport) }),
  z.object({ type: z.literal('failed'), message: z.string() }),
]);

export type LedgerQuestion = z.output<typeof ledgerQuestion>;
export type LedgerLine = z.output<typeof ledgerLine>;
