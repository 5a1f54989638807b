import { type ChainStep, type Handle, stepOf } from '@tonos/core';

/** The points of a step's response that can be taken hold of; none where its settings can't be used. */
export function handlesOf(step: ChainStep): Handle<ChainStep['settings']>[] {
  const definition = stepOf(step);
  const parsed = definition?.settings.safeParse(step.settings);
  return (parsed?.success && definition?.curves?.handles?.(parsed.data)) || [];
}
