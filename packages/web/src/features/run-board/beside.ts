import type { Run, RunItem } from '@tonos/contract';

/** A recording in two runs. */
export interface Pair {
  recordingId: string;
  name: string;
  first: RunItem | undefined;
  second: RunItem | undefined;
}

/** What was rendered of each recording in either run, in the order of the first. */
export function pairs(first: Pick<Run, 'items'>, second: Pick<Run, 'items'>): Pair[] {
  const others = new Map(second.items.map((item) => [item.recordingId, item]));
  const paired = first.items.map((item) => {
    const other = others.get(item.recordingId);
    others.delete(item.recordingId);
    return { recordingId: item.recordingId, name: item.name, first: item as RunItem | undefined, second: other };
  });
  return [
    ...paired,
    ...[...others.values()].map((item) => ({
      recordingId: item.recordingId,
      name: item.name,
      first: undefined,
      second: item,
    })),
  ];
}

/** Whether the very same bytes were delivered. */
export const isSame = ({ first, second }: Pair): boolean =>
  first?.output != null && first.output.sha256 === second?.output?.sha256;
