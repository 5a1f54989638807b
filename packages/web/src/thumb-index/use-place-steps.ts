import type { IndexPlace } from '@tonos/contract';
import type { ChainStep } from '@tonos/core';
import { useCallback } from 'react';
import { api } from '../api/api.ts';

/** The steps that a place stands for: of the chain as it is now, of the preset as it is now, or as they were put there. */
export function usePlaceSteps(): (place: IndexPlace) => Promise<readonly ChainStep[]> {
  const [askChain] = api.useLazyChainQuery();
  const [askPresets] = api.useLazyPresetsQuery();
  return useCallback(
    async ({ name, content }) => {
      if (content.kind === 'steps') return content.steps;
      if (content.kind === 'chain') return (await askChain(content.chainId).unwrap()).steps;
      const preset = (await askPresets().unwrap()).find(({ id }) => id === content.presetId);
      if (!preset) throw new Error(`The preset of “${name}” is gone. Put another at this letter.`);
      return [{ kind: preset.kind, on: true, mix: 1, settings: preset.settings }];
    },
    [askChain, askPresets],
  );
}
