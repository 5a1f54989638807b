import { Button } from '@mantine/core';
import { type Forecast, plainFigure, reasonsOff, stepOfKind } from '@tonos/core';
import type { EditedStep } from '../chain-slice.ts';
import classes from './Ledger.module.css';

interface TargetAdviceProps {
  told: Forecast;
  steps: readonly EditedStep[];
  onEdit(id: string, settings: Record<string, unknown>): void;
  onAdd(kind: string, at: number, settings: Record<string, unknown>): void;
}

const MOST_REDUCTION_DB = 40;

/** What keeps the result off the target, with the figure; for a floor too high, what would mend it at a press. */
export function TargetAdvice({ told, steps, onEdit, onAdd }: TargetAdviceProps) {
  const reasons = reasonsOff(told.limits, told.gainDb);
  if (!reasons.length) return null;
  const floor = told.limits.find(({ measure, result }) => measure === 'noiseFloorDbfs' && result === 'over');
  const missing = floor?.by ? Math.ceil(floor.by) : 0;
  const reducer = steps.find(({ kind, on }) => kind === 'noise-reduction' && on);
  const now = Number(reducer?.settings.reductionDb ?? 12);
  const wanted = Math.min(MOST_REDUCTION_DB, now + missing);
  return (
    <p className={`advice ${classes.notes}`}>
      {reasons.join(' ')}
      {missing > 0 && reducer && wanted > now && (
        <span className={classes.acts}>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => onEdit(reducer.id, { ...reducer.settings, reductionDb: wanted })}
          >
            Reduce noise by {plainFigure(wanted)} dB
          </Button>
        </span>
      )}
      {missing > 0 && !reducer && (
        <span className={classes.acts}>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() =>
              onAdd('noise-reduction', 0, { reductionDb: Math.min(MOST_REDUCTION_DB, Math.max(6, missing)) })
            }
          >
            Add {stepOfKind('noise-reduction')!.title.toLowerCase()} of{' '}
            {Math.min(MOST_REDUCTION_DB, Math.max(6, missing))} dB
          </Button>
        </span>
      )}
    </p>
  );
}
