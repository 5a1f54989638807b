import { Button } from '@mantine/core';
import { type Forecast, kindWith, MOST_REDUCTION_DB, plainFigure, reasonsOff } from '@tonos/core';
import { defaultsOf, settingsOf } from '../../../steps/step-catalogue.ts';
import type { EditedStep } from '../chain-slice.ts';
import classes from './Ledger.module.css';

interface TargetAdviceProps {
  told: Forecast;
  steps: readonly EditedStep[];
  onEdit(id: string, settings: Record<string, unknown>): void;
  onAdd(kind: string, at: number, settings: Record<string, unknown>): void;
}

/** Less is not worth a step. */
const LEAST_REDUCTION_DB = 6;
const REDUCER = kindWith('reducesNoiseBy');
const BY = REDUCER.traits!.reducesNoiseBy!;

/** What keeps the result off the target, with the figure; for a floor too high, what would mend it at a press. */
export function TargetAdvice({ told, steps, onEdit, onAdd }: TargetAdviceProps) {
  const reasons = reasonsOff(told.limits, told.gainDb);
  if (!reasons.length) return null;
  const floor = told.limits.find(({ measure, result }) => measure === 'noiseFloorDbfs' && result === 'over');
  const missing = floor?.by ? Math.ceil(floor.by) : 0;
  const reducer = steps.find(({ kind, on }) => kind === REDUCER.kind && on);
  const now = Number(reducer?.settings[BY] ?? defaultsOf(settingsOf(REDUCER))[BY]);
  const wanted = Math.min(MOST_REDUCTION_DB, now + missing);
  const added = Math.min(MOST_REDUCTION_DB, Math.max(LEAST_REDUCTION_DB, missing));
  return (
    <p className={`advice ${classes.notes}`}>
      {reasons.join(' ')}
      {missing > 0 && reducer && wanted > now && (
        <span className={classes.acts}>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => onEdit(reducer.id, { ...reducer.settings, [BY]: wanted })}
          >
            Reduce noise by {plainFigure(wanted)} dB
          </Button>
        </span>
      )}
      {missing > 0 && !reducer && (
        <span className={classes.acts}>
          <Button size="compact-xs" variant="default" onClick={() => onAdd(REDUCER.kind, 0, { [BY]: added })}>
            Add {REDUCER.title.toLowerCase()} of {added} dB
          </Button>
        </span>
      )}
    </p>
  );
}
