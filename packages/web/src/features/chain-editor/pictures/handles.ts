import { type ChainStep, type Handle, stepOfKind } from '@tonos/core';

/** The points of a step's response that can be taken hold of; none where its settings can't be used. */
export function handlesOf({ kind, settings }: ChainStep): Handle<ChainStep['settings']>[] {
  const definition = stepOfKind(kind);
  const parsed = definition?.settings.safeParse(settings);
  return (parsed?.success && definition?.curves?.handles?.(parsed.data)) || [];
}
