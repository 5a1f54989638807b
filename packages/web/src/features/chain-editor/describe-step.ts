import { type ChainStep, stepOfKind } from '@tonos/core';

/** A step's settings in one short line; what is wrong with them where they can't be used. */
export function describeStep({ kind, settings }: ChainStep): { text: string; wrong: boolean } {
  const definition = stepOfKind(kind);
  if (!definition) return { text: `The kind "${kind}" is not known to this version.`, wrong: true };
  const parsed = definition.settings.safeParse(settings);
  return parsed.success
    ? { text: definition.describe(parsed.data), wrong: false }
    : { text: 'A setting is outside its range.', wrong: true };
}
