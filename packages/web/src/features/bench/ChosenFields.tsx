import { TextInput } from '@mantine/core';
import { hertzFigure, readHertz } from '@tonos/core';
import type { RefObject } from 'react';
import { clock, readClock } from '../../ui/time.ts';
import type { Bounds, Edge } from './choose-edges.ts';
import classes from './Marks.module.css';
import { isBox, type Selection } from './markings.ts';

interface ChosenFieldsProps {
  selection: Selection;
  /** The one that keys move. */
  edge: Edge;
  bounds: Bounds;
  decimals: number;
  first: RefObject<HTMLInputElement | null>;
  select(selection: Selection): void;
}

const hertz = (hz: number) => hertzFigure(Number(hz.toPrecision(3)));

/** The ends of what is chosen, in figures that can be typed. */
export function ChosenFields({ selection, edge, bounds, decimals, first, select }: ChosenFieldsProps) {
  const { startSeconds, endSeconds } = selection;
  const time = (seconds: number) => Math.min(bounds.totalSeconds, Math.max(0, seconds));
  return (
    <>
      <Field
        field={first}
        label="From"
        text={clock(startSeconds, decimals)}
        moved={edge === 'start'}
        read={readClock}
        take={(typed) => {
          const at = time(typed);
          select({ ...selection, startSeconds: Math.min(at, endSeconds), endSeconds: Math.max(at, endSeconds) });
        }}
      />
      {'\u2013'}
      <Field
        label="To"
        text={clock(endSeconds, decimals)}
        moved={edge === 'end'}
        read={readClock}
        take={(typed) => {
          const at = time(typed);
          select({ ...selection, startSeconds: Math.min(at, startSeconds), endSeconds: Math.max(at, startSeconds) });
        }}
      />
      {isBox(selection) && (
        <>
          <Field
            label="Lowest frequency"
            text={hertz(selection.lowHz)}
            moved={edge === 'start'}
            read={readHertz}
            take={(hz) => select({ ...selection, lowHz: Math.max(bounds.lowestHz, Math.min(hz, selection.highHz)) })}
          />
          {'\u2013'}
          <Field
            label="Highest frequency"
            text={hertz(selection.highHz)}
            moved={edge === 'end'}
            read={readHertz}
            take={(hz) => select({ ...selection, highHz: Math.min(bounds.highestHz, Math.max(hz, selection.lowHz)) })}
          />
        </>
      )}
    </>
  );
}

interface FieldProps {
  field?: RefObject<HTMLInputElement | null>;
  label: string;
  text: string;
  moved: boolean;
  read(text: string): number | null;
  take(value: number): void;
}

function Field({ field, label, text, moved, read, take }: FieldProps) {
  return (
    <TextInput
      key={text}
      ref={field}
      aria-label={label}
      variant="unstyled"
      size="xs"
      classNames={{ input: moved ? classes.movedEdge : classes.edge }}
      style={{ width: `calc(${Math.max(5, text.length)}ch + 12px)` }}
      defaultValue={text}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key !== 'Escape') return;
        event.currentTarget.value = text;
        event.currentTarget.blur();
      }}
      onFocus={(event) => event.currentTarget.select()}
      onBlur={(event) => {
        const typed = event.currentTarget.value.trim();
        if (typed === text) return;
        const value = read(typed);
        if (value === null) event.currentTarget.value = text;
        else take(value);
      }}
    />
  );
}
