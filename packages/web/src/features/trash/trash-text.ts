import type { TrashEntry } from '@tonos/contract';
import { sizeText } from '../../ui/size-text.ts';

const counted = (count: number, one: string, many: string): string[] =>
  count ? [`${count} ${count === 1 ? one : many}`] : [];

/** What goes with it: 12 recordings, 3 runs, 24 delivered files. */
export const containsText = ({ kind, contains: { recordings, runs, deliveries } }: TrashEntry): string =>
  [
    // a recording by itself is what the row names
    ...(kind === 'recording'
      ? counted(recordings > 1 ? recordings : 0, 'take', 'takes')
      : counted(recordings, 'recording', 'recordings')),
    ...counted(kind === 'run' ? 0 : runs, 'run', 'runs'),
    ...counted(deliveries, 'delivered file', 'delivered files'),
  ].join(', ');

/** What would be gone, before it is. */
export function goesText(entries: readonly TrashEntry[]): string {
  const sum = (of: (entry: TrashEntry) => number) => entries.reduce((total, entry) => total + of(entry), 0);
  const [first, ...others] = entries;
  const what = `“${first.name}”${others.length ? ` and ${others.length} more` : ''}`;
  const within = [
    ...counted(
      sum(({ contains }) => contains.recordings),
      'recording',
      'recordings',
    ),
    ...counted(
      sum(({ contains }) => contains.deliveries),
      'delivered file',
      'delivered files',
    ),
  ];
  const bytes = sum((entry) => entry.bytes);
  const alone = entries.some(({ kind }) => kind === 'recording');
  return [
    `${what}${within.length ? `, with ${within.join(' and ')},` : ''} will be gone from the disk, and nothing brings back what is gone.`,
    ...(bytes ? [`That gives ${sizeText(bytes)}.`] : []),
    ...(alone
      ? [
          'What was delivered of a recording stays in its runs: throw these away too where the voice is to be gone altogether.',
        ]
      : []),
  ].join(' ');
}
