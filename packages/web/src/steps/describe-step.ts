import { type ChainStep, moduleOf, stepOf } from '@tonos/core';
import { isEnded } from '../modules/index.ts';

/** A step's settings in one short line; what is wrong with them where they can't be used. */
export function describeStep(step: ChainStep): { text: string; wrong: boolean } {
  const { kind, settings } = step;
  const definition = stepOf(step);
  const named = moduleOf(step);
  if (!definition && named) {
    const called = `\u201c${named.name}\u201d ${named.version}`;
    const text = isEnded(named.sha256)
      ? `${called} did not come back, and was ended. Load the page to try it again.`
      : `${called} is not in the library here. The step is kept as it is.`;
    return { text, wrong: true };
  }
  if (!definition) return { text: `The kind "${kind}" is not known to this version.`, wrong: true };
  const parsed = definition.settings.safeParse(settings);
  return parsed.success
    ? { text: definition.describe(parsed.data), wrong: false }
    : { text: 'A setting is outside its range.', wrong: true };
}

/** As rows and messages call a step. */
export const nameOfStep = (step: { kind: string; settings?: unknown }): string =>
  stepOf(step)?.title ?? moduleOf(step)?.name ?? step.kind;
