import { Button } from '@mantine/core';
import type { Approval } from '@tonos/contract';
import { memo, useState } from 'react';
import { useMay, useMe } from '../people/use-me.ts';
import { moment } from '../ui/time.ts';
import { ApproveForm } from './ApproveForm.tsx';
import classes from './History.module.css';

interface HistoryProps {
  /** The newest first. */
  revisions: readonly {
    revision: number;
    note: string;
    author: string;
    createdAt: string;
    approval: Approval | null;
  }[];
  /** How much one holds. */
  sizeOf(revision: number): string;
  onTake(revision: number): void;
  onCompare?: (revision: number) => void;
  /** @param sentence null takes an approval back */
  onApprove(revision: number, sentence: string | null): Promise<void>;
}

/** Every revision with its note. An old one can be taken into the draft; it stays as it is itself. */
export const History = memo(function History({ revisions, sizeOf, onTake, onCompare, onApprove }: HistoryProps) {
  const isShared = useMe()?.shared ?? false;
  const mayApprove = useMay('lead') && isShared;
  const [approved, setApproved] = useState<number | null>(null);
  return (
    <section className={classes.history} aria-label="Revisions">
      <h2 className={classes.head}>Revisions</h2>
      <ol className={classes.list} reversed>
        {revisions.map(({ revision, note, author, createdAt, approval }) => (
          <li key={revision} className={classes.line}>
            <span className={classes.number}>{revision}</span>
            <span className={classes.note}>
              {note || (revision === 1 ? 'first' : 'no note')}
              {approval && (
                <span
                  className={classes.approval}
                  title={`${approval.by}, ${moment(approval.at)}: ${approval.sentence}`}
                >
                  approved{approval.by && ` by ${approval.by}`}: {approval.sentence}
                </span>
              )}
            </span>
            <span className="quiet small">{sizeOf(revision)}</span>
            <span className="quiet small">
              {moment(createdAt)}
              {author && `, ${author}`}
            </span>
            <span className={classes.acts}>
              {mayApprove && (
                <Button
                  size="compact-xs"
                  variant="subtle"
                  onClick={() => (approval ? void onApprove(revision, null) : setApproved(revision))}
                >
                  {approval ? 'Approve no longer' : 'Approve'}
                </Button>
              )}
              {onCompare && (
                <Button size="compact-xs" variant="subtle" onClick={() => onCompare(revision)}>
                  Compare
                </Button>
              )}
              <Button size="compact-xs" variant="subtle" onClick={() => onTake(revision)}>
                Take into the draft
              </Button>
            </span>
          </li>
        ))}
      </ol>
      <ApproveForm
        what={approved === null ? null : `revision ${approved}`}
        onClose={() => setApproved(null)}
        onApprove={async (sentence) => {
          await onApprove(approved!, sentence);
          setApproved(null);
        }}
      />
    </section>
  );
});
