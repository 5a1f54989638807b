/**
 * Cuts a chain into as few passes as can be: one, and one more for each step that must first hear the whole signal at its
 * place, or may read it beforehand. Where nothing changes the signal before such a step, the input itself is heard and nothing is spooled.
 *
 *     [eq, loudness, limiter]   input: [eq], study loudness -> spool | spool: [loudness, limiter] -> output
 *     [loudness, limiter]       input: [], study loudness            | input: [loudness, limiter] -> output
 */
export interface Pass<Step> {
  readonly reads: 'input' | 'spool';
  readonly applies: readonly Step[];
  /** The step whose study hears what this pass makes. */
  readonly studies: Step | undefined;
  readonly writes: 'nothing' | 'spool' | 'output';
}

interface Planned {
  readonly settings?: unknown;
  readonly definition: { readonly study?: unknown; needsStudy?(settings: unknown): boolean; retime?: unknown };
}

/** Whether a step must hear the whole signal before it runs. */
export const needsStudy = ({ definition, settings }: Planned): boolean =>
  definition.study !== undefined && (definition.needsStudy?.(settings) ?? true);

export function planPasses<Step extends Planned>(chain: readonly Step[]): Pass<Step>[] {
  const passes: Pass<Step>[] = [];
  let reads: Pass<Step>['reads'] = 'input';
  let applies: Step[] = [];
  for (const step of chain) {
    const studies = needsStudy(step) ? step : undefined;
    // what moves moments may read what comes to it before it begins: then that lies ready
    if (studies || (step.definition.retime && applies.length)) {
      const writes = applies.length ? 'spool' : 'nothing';
      passes.push({ reads, applies, studies, writes });
      if (writes === 'spool') reads = 'spool';
      applies = [];
    }
    applies.push(step);
  }
  passes.push({ reads, applies, studies: undefined, writes: 'output' });
  return passes;
}
