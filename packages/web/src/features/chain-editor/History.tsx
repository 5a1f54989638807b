import { Button } from '@mantine/core';
import type { Chain } from '@tonos/contract';
import { memo } from 'react';
import { moment } from '../../ui/time.ts';
import classes from './History.module.css';

interface HistoryProps {
  chain: Chain;
  onTake(revision: number): void;
  onCompare(revision: number): void;
}

/** Every revision with its note. An old one can be taken into the draft; it stays as it is itself. */
export const History = memo(function History({ chain, onTake, onCompare }: HistoryProps) {
  return (
    <section className={classes.history} aria-label="Revisions">
      <h2 className={classes.head}>Revisions</h2>
      <ol className={classes.list} reversed>
        {chain.revisions.map(({ revision, note, author, createdAt, stepCount }) => (
          <li key={revision} className={classes.line}>
            <span className={classes.number}>{revision}</span>
            <span className={classes.note}>{note || (revision === 1 ? 'first' : 'no note')}</span>
            <span className="quiet small">
              {stepCount} {stepCount === 1 ? 'step' : 'steps'}
            </span>
            <span className="quiet small">
              {moment(createdAt)}
              {author && `, ${author}`}
            </span>
            <Button size="compact-xs" variant="subtle" onClick={() => onCompare(revision)}>
              Compare
            </Button>
            <Button size="compact-xs" variant="subtle" onClick={() => onTake(revision)}>
              Take into the draft
            </Button>
          </li>
        ))}
      </ol>
    </section>
  );
});
