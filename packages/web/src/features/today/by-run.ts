import type { Today } from '@tonos/contract';

type Item = Today['items'][number];

/** What is to be settled, run by run, in the order in which they were told. */
export function byRun(items: readonly Item[]): { runId: string; titleName: string; items: Item[] }[] {
  const runs = new Map<string, { runId: string; titleName: string; items: Item[] }>();
  for (const item of items) {
    const { runId, titleName } = item;
    const run = runs.get(runId) ?? { runId, titleName, items: [] };
    run.items.push(item);
    runs.set(runId, run);
  }
  return [...runs.values()];
}
