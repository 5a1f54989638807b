import { type CatalogueEntry, catalogue } from '@tonos/core';

export const CATALOGUE: readonly CatalogueEntry[] = catalogue();

/** A setting as its JSON Schema says it: all that a form needs. */
export interface SettingSchema {
  title?: string;
  description?: string;
  type?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  default?: unknown;
  scale?: 'linear' | 'logarithmic';
  step?: number;
  enum?: (string | number)[];
  labels?: Record<string, string>;
  item?: string;
  items?: SettingSchema & { properties?: Record<string, SettingSchema> };
  /** A list that is read from and written to CSV. */
  csv?: boolean;
  /** A list that is a stored spectrum. */
  spectrum?: boolean;
  minItems?: number;
  maxItems?: number;
}

export const settingsOf = (kind: string): [key: string, schema: SettingSchema][] =>
  Object.entries(
    (CATALOGUE.find((entry) => entry.kind === kind)?.settings.properties ?? {}) as Record<string, SettingSchema>,
  );

export const defaultsOf = (properties: readonly [string, SettingSchema][]): Record<string, unknown> =>
  Object.fromEntries(properties.map(([key, schema]) => [key, schema.default]));

/** Kinds that what was typed could mean: every word of it begins a word of the title, or of the kind's everyday words. */
export function findKinds(typed: string): CatalogueEntry[] {
  const wanted = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return CATALOGUE.filter(({ title, words }) => {
    const known = `${title} ${words.join(' ')}`.toLowerCase().split(/[\s-]+/);
    return wanted.every((word) => known.some((one) => one.startsWith(word)));
  });
}
