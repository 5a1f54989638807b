import { Button } from '@mantine/core';
import { memo } from 'react';
import { moment } from '../ui/time.ts';
import classes from './History.module.css';

interface HistoryProps {
  /** The newest first. */
  revisions: readonly { revision: number; note: string; author: string; createdAt: string }[];
  /** How much one holds. */
  sizeOf(revision: number): string;
  onTake(revision: number): void;
  onCompare?: (revision: number) => void;
}

/** Every revision with its note. An old one can be taken into the draft; it stays as it is itself. */
export const History = memo(function History({ revisions, sizeOf, onTake, onCompare }: HistoryProps) {
  return (
    <section className={classes.history} aria-label="Revisions">
      <h2 className={classes.head}>Revisions</h2>
      <ol className={classes.list} reversed>
        {revisions.map(({ revision, note, author, createdAt }) => (
          <li key={revision} className={classes.line}>
            <span className={classes.number}>{revision}</span>
            <span className={classes.note}>{note || (revision === 1 ? 'first' : 'no note')}</span>
            <span className="quiet small">{sizeOf(revision)}</span>
            <span className="quiet small">
              {moment(createdAt)}
              {author && `, ${author}`}
            </span>
            <span className={classes.acts}>
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
    </section>
  );
});
