import { type ChainStep, chainFile } from '@tonos/core';

/** Steps as they travel through the clipboard: a chain file without a name of its own. */
export const stepsToText = (steps: readonly ChainStep[]): string =>
  JSON.stringify({ format: 'tonos.chain/1', name: 'Copied steps', steps }, undefined, 2);

/** Steps in a text that was pasted: of a chain file, or copied here; null where it is something else. */
export function stepsFromText(text: string): ChainStep[] | null {
  try {
    const parsed = chainFile.safeParse(JSON.parse(text));
    return parsed.success && parsed.data.steps.length ? parsed.data.steps : null;
  } catch {
    return null;
  }
}
