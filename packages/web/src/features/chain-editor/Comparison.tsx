import { ActionIcon } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import type { Recording } from '@tonos/contract';
import { type ChainStep, compareChains, type LedgerFigures } from '@tonos/core';
import { useMemo } from 'react';
import { api } from '../../api/api.ts';
import classes from '../../editing/History.module.css';
import type { EditedStep } from './chain-slice.ts';
import { differenceText } from './difference-text.ts';
import { FigureCells } from './ledger/FigureCells.tsx';
import ledgerClasses from './ledger/Ledger.module.css';
import { useLedger } from './ledger/use-ledger.ts';

interface ComparisonProps {
  chainId: string;
  revision: number;
  steps: readonly EditedStep[];
  /** After the chain as it is now, on the example. */
  last: LedgerFigures | undefined;
  recording: Recording | undefined;
  onClose(): void;
}

/** What differs from an earlier revision: its steps, and what it made of the example. */
export function Comparison({ chainId, revision, ...rest }: ComparisonProps) {
  const { data } = api.useRevisionQuery({ id: chainId, revision });
  return data ? <Compared revision={revision} before={data.steps} {...rest} /> : null;
}

function Compared({
  revision,
  before,
  steps,
  last,
  recording,
  onClose,
}: Omit<ComparisonProps, 'chainId'> & { before: readonly ChainStep[] }) {
  const earlier = useMemo(
    () => before.map((step, i): EditedStep => ({ ...step, id: step.id ?? `step-${i + 1}` })),
    [before],
  );
  const differences = compareChains(earlier, steps);
  const ledger = useLedger(recording, earlier, false);
  const was = Object.values(ledger.rows).at(-1)?.figures ?? ledger.source;
  return (
    <section className={classes.comparison} aria-label={`Compared with revision ${revision}`}>
      <div className={classes.comparisonHead}>
        <h2 className={classes.small}>Compared with revision {revision}</h2>
        <ActionIcon size="sm" aria-label="End the comparison" onClick={onClose}>
          <IconX size={15} />
        </ActionIcon>
      </div>
      {differences.length === 0 && <p className="quiet">Every step is the same.</p>}
      <ul className={classes.differences}>
        {differences.map((difference) => {
          const { title, text } = differenceText(difference);
          return (
            <li key={`${difference.id} ${difference.from} ${difference.to}`}>
              <strong>{title}</strong> {text}
            </li>
          );
        })}
      </ul>
      {recording && (
        <>
          <div className={ledgerClasses.line}>
            <span className={ledgerClasses.first}>Revision {revision}</span>
            <span className={ledgerClasses.what}>after its last step, {recording.name}</span>
            <FigureCells figures={was} />
          </div>
          <div className={ledgerClasses.line}>
            <span className={ledgerClasses.first}>Now</span>
            <span className={ledgerClasses.what}>and what is different</span>
            <FigureCells figures={last} before={was} />
          </div>
        </>
      )}
    </section>
  );
}
