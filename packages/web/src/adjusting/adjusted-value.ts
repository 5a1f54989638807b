import type { Recording } from '@tonos/contract';

/** Stands for a value that is not the same in all that are chosen. */
export const VARIES = Symbol('varies');

/** What a setting of a chain's step is for some recordings: their own value, or the chain's; VARIES where they differ. */
export function adjustedValue(
  recordings: readonly Pick<Recording, 'adjustments'>[],
  chainId: string,
  stepId: string,
  key: string,
  shared: unknown,
): unknown {
  const values = recordings.map(({ adjustments }) => {
    const settings = adjustments[chainId]?.find(({ id }) => id === stepId)?.settings;
    return settings && key in settings ? settings[key] : shared;
  });
  return values.every((value) => value === values[0]) ? (values[0] ?? shared) : VARIES;
}
