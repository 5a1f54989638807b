import * as z from 'zod';
import { STEPS } from '../steps/index.ts';

/** What forms, the command and the docs read of a step kind. */
export interface CatalogueEntry {
  kind: string;
  title: string;
  group: string;
  summary: string;
  words: readonly string[];
  settings: Record<string, unknown>;
}

/** Every step kind with the JSON Schema of its settings: minimum, maximum, default, title, unit. */
export const catalogue = (): CatalogueEntry[] =>
  STEPS.map(({ kind, title, group, summary, words, settings }) => ({
    kind,
    title,
    group,
    summary,
    words,
    settings: z.toJSONSchema(settings, { io: 'input' }) as Record<string, unknown>,
  }));
