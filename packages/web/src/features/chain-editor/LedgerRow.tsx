import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ActionIcon, Button, Switch } from '@mantine/core';
import { IconGripVertical, IconTrash } from '@tabler/icons-react';
import { type Findings, type LedgerFigures, type OrderAdvice, plainFigure, signedFigure, stepOf } from '@tonos/core';
import { memo } from 'react';
import { useAppDispatch } from '../../app/store.ts';
import { useKnownModules } from '../../modules/index.ts';
import { describeStep, nameOfStep } from '../../steps/describe-step.ts';
import type { StepPicture } from '../../steps/pictures/step-picture.ts';
import { clock } from '../../ui/time.ts';
import { chainEditorSlice, type EditedStep } from './chain-slice.ts';
import classes from './LedgerRow.module.css';
import { FigureCells } from './ledger/FigureCells.tsx';
import { StepPanel } from './StepPanel.tsx';

const { edited, removed } = chainEditorSlice.actions;

interface LedgerRowProps {
  chainId: string;
  step: EditedStep;
  place: number;
  current: boolean;
  opened: boolean;
  /** What is doubtful about its place. */
  advice: readonly OrderAdvice[];
  /** Figures after this step, whether they are of the steps as they are now, and after the row above. */
  figures: LedgerFigures | undefined;
  lengthSeconds: number | undefined;
  fresh: boolean;
  before: LedgerFigures | undefined;
  findings: Findings | undefined;
  picture: StepPicture | null;
  onFix(advice: OrderAdvice): void;
  onDismiss(advice: OrderAdvice): void;
  onCurrent(id: string): void;
  onToggle(id: string): void;
  /** Whether it is heard and measured as it was, whatever is changed. */
  held: boolean;
  onHold(id: string): void;
}

const clipsHere = (after: LedgerFigures, before: LedgerFigures | undefined): boolean =>
  (after.samplePeakDbfs ?? -1) > 0 && (before?.samplePeakDbfs ?? -1) <= 0;

/** One step: its place, what it does, on or off, how much of it; its settings below when opened. */
export const LedgerRow = memo(function LedgerRow(props: LedgerRowProps) {
  const {
    chainId,
    step,
    place,
    current,
    opened,
    advice,
    figures,
    lengthSeconds,
    fresh,
    before,
    findings,
    picture,
    onCurrent,
    onToggle,
    onFix,
    onDismiss,
    held,
    onHold,
  } = props;
  const dispatch = useAppDispatch();
  useKnownModules();
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: step.id });
  const { id, on, mix } = step;
  const title = nameOfStep(step);
  const { text, wrong } = describeStep(step);
  return (
    <li
      ref={setNodeRef}
      className={classes.step}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      data-dragging={isDragging || undefined}
      data-off={!on || undefined}
    >
      <div className={classes.row} data-current={current || undefined}>
        <button type="button" className={classes.grip} aria-label={`Move ${title}`} {...attributes} {...listeners}>
          <IconGripVertical size={15} />
        </button>
        <span className={classes.place}>{place}</span>
        <button
          type="button"
          id={`step-${id}`}
          className={classes.title}
          aria-expanded={opened}
          onClick={() => onToggle(id)}
          onFocus={() => onCurrent(id)}
        >
          <span className={classes.name}>{title}</span>
          <span className={wrong ? 'verdict-over' : classes.text}>
            {held && <strong>held, heard as before: </strong>}
            {mix < 1 && `${plainFigure(100 * mix)} % of `}
            {text}
            {on && stepOf(step)?.group === 'time' && lengthSeconds !== undefined && (
              <span className={classes.length}>
                {' '}
                {'\u2192'} {clock(lengthSeconds, 1)}
              </span>
            )}
          </span>
        </button>
        <FigureCells figures={figures} before={before} stale={figures ? !fresh : false} />
        <Switch
          size="xs"
          aria-label={`${title} on`}
          checked={on}
          onChange={(event) =>
            dispatch(edited({ chainId, id, part: { on: event.currentTarget.checked }, touched: null }))
          }
        />
        <ActionIcon size="sm" aria-label={`Remove ${title}`} onClick={() => dispatch(removed({ chainId, id }))}>
          <IconTrash size={15} />
        </ActionIcon>
      </div>
      {step.note && <p className={`quiet ${classes.note}`}>{step.note}</p>}
      {figures && fresh && clipsHere(figures, before) && (
        <p className={`verdict-over ${classes.advice}`}>
          Peaks go over full scale here, to {signedFigure(figures.samplePeakDbfs!)} dBFS. Steps after this one can still
          bring them down; a file cannot hold them.
        </p>
      )}
      {advice.map((one) => (
        <p key={one.code} className={`advice ${classes.advice}`}>
          {one.message}
          <Button size="compact-xs" variant="default" ml={12} onClick={() => onFix(one)}>
            Do it
          </Button>
          <Button size="compact-xs" variant="subtle" ml={6} onClick={() => onDismiss(one)}>
            Not for me
          </Button>
        </p>
      ))}
      {opened && (
        <StepPanel chainId={chainId} step={step} findings={findings} picture={picture} held={held} onHold={onHold} />
      )}
    </li>
  );
});
