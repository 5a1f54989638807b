import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ActionIcon, NumberInput, Switch } from '@mantine/core';
import { IconGripVertical, IconTrash } from '@tabler/icons-react';
import { type OrderAdvice, stepOfKind } from '@tonos/core';
import { useAppDispatch } from '../../app/store.ts';
import { chainEditorSlice, type EditedStep } from './chain-slice.ts';
import { describeStep } from './describe-step.ts';
import classes from './LedgerRow.module.css';
import { StepPanel } from './StepPanel.tsx';
import { takeNumber } from './take-number.ts';

const { edited, removed } = chainEditorSlice.actions;

interface LedgerRowProps {
  chainId: string;
  step: EditedStep;
  place: number;
  current: boolean;
  opened: boolean;
  /** What is doubtful about its place. */
  advice: readonly OrderAdvice[];
  onCurrent(): void;
  onToggle(): void;
}

/** One step: its place, what it does, on or off, how much of it; its settings below when opened. */
export function LedgerRow({ chainId, step, place, current, opened, advice, onCurrent, onToggle }: LedgerRowProps) {
  const dispatch = useAppDispatch();
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: step.id });
  const { id, kind, on, mix } = step;
  const title = stepOfKind(kind)?.title ?? kind;
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
          onClick={onToggle}
          onFocus={onCurrent}
        >
          <span className={classes.name}>{title}</span>
          <span className={wrong ? 'verdict-over' : classes.text}>{text}</span>
        </button>
        <span className={classes.mix}>
          <span className="unit">mix</span>
          <NumberInput
            aria-label={`Mix of ${title}`}
            classNames={{ input: classes.mixFigure }}
            size="xs"
            variant="unstyled"
            hideControls
            value={mix}
            min={0}
            max={1}
            step={0.05}
            decimalScale={2}
            fixedDecimalScale
            onChange={(typed) =>
              takeNumber(
                typed,
                0,
                1,
                (next) => next !== mix && dispatch(edited({ chainId, id, part: { mix: next }, touched: 'mix' })),
              )
            }
          />
        </span>
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
      {advice.map(({ code, message }) => (
        <p key={code} className={`advice ${classes.advice}`}>
          {message}
        </p>
      ))}
      {opened && <StepPanel chainId={chainId} step={step} />}
    </li>
  );
}
