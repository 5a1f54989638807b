import type { Recording } from '@tonos/contract';
import type { Limit } from '@tonos/core';
import { measureOf } from '../../ui/limit-text.ts';
import { chooseColumn } from '../../ui/table/choose-column.tsx';
import { type LedgerColumn, shownAs, sortedBy } from '../../ui/table/use-ledger-table.ts';
import classes from './RecordingTable.module.css';
import { SORT_VALUES } from './sort-recordings.ts';

const column = (id: keyof typeof SORT_VALUES, header: string, className?: string): LedgerColumn<Recording> =>
  sortedBy(id, header, SORT_VALUES[id], { meta: { className } });

/** @param levelLimit what the title's target aims for; its window has a column */
export const recordingColumns = (levelLimit: Limit | undefined): LedgerColumn<Recording>[] => [
  chooseColumn(classes.check),
  column('position', 'No.', 'number'),
  shownAs('listen', 'Listen', { meta: { unseen: true } }),
  column('name', 'Recording', 'held-start'),
  shownAs('delivered', 'Delivered'),
  column('length', 'Length', 'number'),
  ...(levelLimit ? [shownAs<Recording>('window', `${measureOf(levelLimit.measure).title} window`)] : []),
  column('loudness', 'Loudness LUFS', 'number'),
  column('truePeak', 'True peak dBTP', 'number'),
  column('floor', 'Noise floor dBFS', 'number'),
  column('warnings', 'Complaints'),
];
