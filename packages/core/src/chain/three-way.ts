import { type ChainStep, stepIds } from './chain-file.ts';
import { compareChains, type StepDifference } from './compare.ts';

/** What two people made of the same steps. */
export interface ThreeWay {
  theirs: StepDifference[];
  mine: StepDifference[];
  /** Ids of steps that both touched, and not in the same way. */
  clashes: string[];
  /** Both changes in one; null where steps clash. */
  both: ChainStep[] | null;
}

/**
 * Brings two states of a chain together that both come from a third one, step by step, by their ids.
 * Where only places differ, theirs stand first: mine are put behind the step that they stood behind.
 */
export function threeWay(
  base: readonly ChainStep[],
  theirs: readonly ChainStep[],
  mine: readonly ChainStep[],
): ThreeWay {
  const [byThem, byMe] = [compareChains(base, theirs), compareChains(base, mine)];
  const [theirOwn, myOwn] = [byId(theirs), byId(mine)];
  const touched = new Map(byThem.map((difference) => [difference.id, difference]));
  const clashes = byMe
    .filter((own) => touched.has(own.id) && !isSame(touched.get(own.id)!, own, theirOwn.get(own.id), myOwn.get(own.id)))
    .map(({ id }) => id);
  return { theirs: byThem, mine: byMe, clashes, both: clashes.length ? null : merged(theirs, mine, byMe) };
}

const byId = (steps: readonly ChainStep[]): Map<string, ChainStep> => {
  const ids = stepIds(steps);
  return new Map(steps.map((step, i) => [ids[i], step]));
};

/** Whether both did the same: took it away, or made the same of it. */
function isSame(a: StepDifference, b: StepDifference, theirs?: ChainStep, mine?: ChainStep): boolean {
  if (a.to === null || b.to === null) return a.to === b.to;
  return JSON.stringify(theirs) === JSON.stringify(mine) && !a.moved && !b.moved;
}

function merged(
  theirs: readonly ChainStep[],
  mine: readonly ChainStep[],
  byMe: readonly StepDifference[],
): ChainStep[] {
  const result = [...byId(theirs)];
  const place = (id: string) => result.findIndex(([own]) => own === id);
  const take = (id: string) => {
    const at = place(id);
    if (at >= 0) result.splice(at, 1);
  };
  const placed = byMe.filter(({ from, to, moved }) => to !== null && (moved || from === null));
  for (const { id, to } of byMe) if (to === null) take(id);
  for (const { id } of placed) take(id);
  const ids = stepIds(mine);
  for (const [i, step] of mine.entries()) {
    const id = ids[i];
    const difference = byMe.find((one) => one.id === id);
    if (!difference) continue;
    if (placed.includes(difference)) result.splice(i === 0 ? 0 : after(ids.slice(0, i), place), 0, [id, step]);
    else result[place(id)] = [id, step];
  }
  return result.map(([, step]) => step);
}

/** Behind the nearest of these that is there. */
function after(ids: readonly string[], place: (id: string) => number): number {
  for (const id of ids.toReversed()) if (place(id) >= 0) return place(id) + 1;
  return 0;
}
