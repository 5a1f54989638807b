export const EXIT = { within: 0, offTarget: 1, usage: 2, unprocessed: 3 } as const;

/** How one file came out, as far as the exit status cares. */
export interface Outcome {
  failed: boolean;
  offTarget: boolean;
}

/** A file that could not be read or processed weighs more than one off target. */
export function exitStatus(outcomes: readonly Outcome[]): number {
  if (outcomes.some(({ failed }) => failed)) return EXIT.unprocessed;
  return outcomes.some(({ offTarget }) => offTarget) ? EXIT.offTarget : EXIT.within;
}
