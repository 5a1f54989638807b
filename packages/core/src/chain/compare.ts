import { type ChainStep, stepIds } from './chain-file.ts';

/** What differs in one step between two states of a chain. Places count from 1; null where the step is not there. */
export interface StepDifference {
  id: string;
  kind: string;
  /** As they are in the later state, or were at the last. */
  settings: ChainStep['settings'];
  from: number | null;
  to: number | null;
  /** Whether it changed its place among the steps that both have. */
  moved: boolean;
  /** Settings, and `on`, `mix`, `scope`, `note` of the step itself; undefined where one side does not state it. */
  changes: { key: string; from: unknown; to: unknown }[];
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function changesBetween(before: ChainStep, after: ChainStep): StepDifference['changes'] {
  const own = (['on', 'mix', 'scope', 'note'] as const).map((key) => ({ key, from: before[key], to: after[key] }));
  const keys = [...new Set([...Object.keys(before.settings), ...Object.keys(after.settings)])];
  const settings = keys.map((key) => ({ key, from: before.settings[key], to: after.settings[key] }));
  return [...own, ...settings].filter(({ from, to }) => !same(from, to));
}

/** Ids that keep their order: the longest run that both sides share (longest common subsequence). The others have moved. */
function keptInOrder(before: readonly string[], after: readonly string[]): Set<string> {
  const lengths = Array.from({ length: before.length + 1 }, () => new Array<number>(after.length + 1).fill(0));
  for (let i = before.length - 1; i >= 0; i--)
    for (let j = after.length - 1; j >= 0; j--)
      lengths[i][j] =
        before[i] === after[j] ? lengths[i + 1][j + 1] + 1 : Math.max(lengths[i + 1][j], lengths[i][j + 1]);
  const kept = new Set<string>();
  for (let i = 0, j = 0; i < before.length && j < after.length; ) {
    if (before[i] === after[j]) {
      kept.add(before[i]);
      i++;
      j++;
    } else if (lengths[i + 1][j] >= lengths[i][j + 1]) i++;
    else j++;
  }
  return kept;
}

/** Steps that were added, removed, moved or changed, in the order of the later state; removed ones come last. */
export function compareChains(before: readonly ChainStep[], after: readonly ChainStep[]): StepDifference[] {
  const [idsBefore, idsAfter] = [stepIds(before), stepIds(after)];
  const shared = keptInOrder(
    idsBefore.filter((id) => idsAfter.includes(id)),
    idsAfter.filter((id) => idsBefore.includes(id)),
  );
  const later = after.map((step, i): StepDifference => {
    const id = idsAfter[i];
    const at = idsBefore.indexOf(id);
    // a step of another kind under the same id is another step
    const old = at >= 0 && before[at].kind === step.kind ? before[at] : undefined;
    return {
      id,
      kind: step.kind,
      settings: step.settings,
      from: old ? at + 1 : null,
      to: i + 1,
      moved: old !== undefined && !shared.has(id),
      changes: old ? changesBetween(old, step) : [],
    };
  });
  const gone = before.flatMap((step, i): StepDifference[] => {
    const still = idsAfter.indexOf(idsBefore[i]);
    if (still >= 0 && after[still].kind === step.kind) return [];
    return [
      { id: idsBefore[i], kind: step.kind, settings: step.settings, from: i + 1, to: null, moved: false, changes: [] },
    ];
  });
  return [...later.filter(({ from, moved, changes }) => from === null || moved || changes.length > 0), ...gone];
}
