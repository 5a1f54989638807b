import type { Findings } from '../steps/step.ts';
import { type ChainStep, type ConfiguredStep, configureChain } from './chain-file.ts';
import { needsStudy } from './plan.ts';
import { type StepReport, versionOf } from './run.ts';

/** A chain that was run over a recording, and what its steps found in it. */
export interface EarlierRun {
  /** With the recording's own adjustments. */
  steps: readonly ChainStep[];
  reports: readonly StepReport[];
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

const isSame = (a: ConfiguredStep, b: ConfiguredStep): boolean =>
  a.id === b.id &&
  a.definition === b.definition &&
  a.mix === b.mix &&
  same(a.scope, b.scope) &&
  same(a.settings, b.settings);

/** Whether what one of them found is what the other would find, since the same goes into both. */
function findsTheSame(before: ConfiguredStep, now: ConfiguredStep): boolean {
  const { definition } = now;
  const studied = definition.studied ?? ((settings: unknown) => settings);
  return (
    before.id === now.id &&
    before.definition === definition &&
    same(before.scope, now.scope) &&
    needsStudy(before) &&
    same(studied(before.settings), studied(now.settings))
  );
}

/**
 * What a chain's steps need not study again, by their ids: findings hold as long as nothing differs before them. The recording, its
 * marks, room tone and boxes must be the same; what an earlier version found otherwise is left out.
 */
export function knownFindings(
  chain: readonly ConfiguredStep[],
  { steps, reports }: EarlierRun,
): Record<string, Findings> {
  const before = configureChain(steps);
  const known: Record<string, Findings> = {};
  for (const [i, step] of chain.entries()) {
    const report = reports.find(({ id }) => id === step.id);
    const isOfToday = report?.findingsVersion === versionOf(step.definition);
    if (report && isOfToday && before[i] && findsTheSame(before[i], step)) known[step.id] = report.findings;
    if (!before[i] || !isSame(before[i], step)) break;
  }
  return known;
}
