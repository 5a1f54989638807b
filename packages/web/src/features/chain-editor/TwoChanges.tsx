import { Button, Group } from '@mantine/core';
import type { Chain } from '@tonos/contract';
import { type ChainStep, type StepDifference, threeWay } from '@tonos/core';
import { useMemo } from 'react';
import { api } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import classes from '../../editing/History.module.css';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';
import { differenceText } from './difference-text.ts';
import own from './TwoChanges.module.css';

const { insisted, replaced } = chainEditorSlice.actions;

interface TwoChangesProps {
  chain: Chain;
  edited: EditedChain;
}

/** Somebody kept a revision while one's own work started from an older one: both changes, step by step, and what is to become of them. */
export function TwoChanges({ chain, edited }: TwoChangesProps) {
  const dispatch = useAppDispatch();
  const { data: base } = api.useRevisionQuery({ id: chain.id, revision: edited.basedOn });
  const { present: mine } = edited;
  const ways = useMemo(() => base && threeWay(base.steps, chain.steps, mine), [base, chain.steps, mine]);
  if (!ways) return null;
  const chainId = chain.id;
  const [latest] = chain.revisions;
  const who = latest.author || 'Somebody else';
  const take = (steps: readonly ChainStep[]) => {
    dispatch(replaced({ chainId, steps }));
    dispatch(insisted({ chainId, basedOn: chain.revision, version: chain.version }));
  };
  return (
    <section className={own.sheet} aria-label="Two changes">
      <h2 className={classes.small}>
        {who} kept revision {chain.revision} while you worked on revision {edited.basedOn}
      </h2>
      {latest.note && <p className={own.note}>“{latest.note}”</p>}
      <div className={own.sides}>
        <Side title={`What ${who} changed`} differences={ways.theirs} clashes={ways.clashes} />
        <Side title="What you changed" differences={ways.mine} clashes={ways.clashes} />
      </div>
      <Group gap={10}>
        <Button
          size="compact-sm"
          disabled={!ways.both}
          title={ways.both ? undefined : 'You both changed the steps that are marked'}
          onClick={() => take(ways.both!)}
        >
          Take both
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => take(chain.steps)}>
          Take theirs
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => dispatch(insisted({ chainId, basedOn: chain.revision, version: chain.version }))}
        >
          Keep mine
        </Button>
        <span className="quiet small">
          {ways.both ? 'Different steps were touched.' : 'Both touched the steps that are marked.'} Ctrl z brings back
          what was there.
        </span>
      </Group>
    </section>
  );
}

interface SideProps {
  title: string;
  differences: readonly StepDifference[];
  clashes: readonly string[];
}

function Side({ title, differences, clashes }: SideProps) {
  return (
    <div>
      <h3 className={own.side}>{title}</h3>
      {differences.length === 0 && <p className="quiet small">No step.</p>}
      <ul className={classes.differences}>
        {differences.map((difference) => {
          const { title: step, text } = differenceText(difference);
          const clash = clashes.includes(difference.id);
          return (
            <li key={`${difference.id} ${difference.from} ${difference.to}`} className={clash ? 'advice' : undefined}>
              <strong>{step}</strong> {text}
              {clash && ' \u2013 both touched it'}
            </li>
          );
        })}
      </ul>
    </div>
  );
}
