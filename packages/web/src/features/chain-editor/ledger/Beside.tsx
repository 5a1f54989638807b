import type { Recording, Target } from '@tonos/contract';
import { forecast } from '@tonos/core';
import { api } from '../../../api/api.ts';
import type { EditedStep } from '../chain-slice.ts';
import { FigureCells } from './FigureCells.tsx';
import classes from './Ledger.module.css';
import { useLedger } from './use-ledger.ts';

interface BesideProps {
  recordingId: string;
  steps: readonly EditedStep[];
  target: Target | undefined;
  held: boolean;
  onChoose(): void;
}

/** What the chain and the finish make of another recording: a chain must suit the loud narrator and the quiet one. */
export function Beside({ recordingId, ...rest }: BesideProps) {
  const { data: recording } = api.useRecordingQuery(recordingId);
  return recording?.measurement ? <BesideLine recording={recording} {...rest} /> : null;
}

function BesideLine({
  recording,
  steps,
  target,
  held,
  onChoose,
}: Omit<BesideProps, 'recordingId'> & { recording: Recording }) {
  const ledger = useLedger(recording, steps, held);
  const shown = Object.values(ledger.rows).at(-1);
  const last = shown?.figures ?? ledger.source;
  const told = last && target ? forecast(target, last) : undefined;
  const off = told?.limits.filter(({ required, result }) => required && result !== 'within').length ?? 0;
  return (
    <div className={classes.line}>
      <span className={classes.first}>
        <button type="button" className={classes.pick} onClick={onChoose} title="Show row by row">
          {recording.name}
        </button>
      </span>
      <span className={classes.what}>
        {told && (
          <span className={off ? 'verdict-over' : 'verdict-within'}>
            {off ? `${off} ${off === 1 ? 'limit' : 'limits'} off` : 'within'}
          </span>
        )}{' '}
        after the finish
      </span>
      <FigureCells figures={told?.figures} before={ledger.source} stale={shown ? !shown.fresh : false} />
    </div>
  );
}
