import { Button, NumberInput } from '@mantine/core';
import { type RefObject, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { ChosenFields } from './ChosenFields.tsx';
import type { Bounds, Edge } from './choose-edges.ts';
import classes from './Marks.module.css';
import { isBox, type Selection } from './markings.ts';

interface SelectionActsProps {
  selection: Selection;
  edge: Edge;
  bounds: Bounds;
  decimals: number;
  first: RefObject<HTMLInputElement | null>;
  select(selection: Selection): void;
  repeat(): void;
  closer(): void;
  mark(): void;
  roomTone(said: 'use' | 'never'): void;
  turnDown(gainDb: number): void;
  takeOut(): void;
  cover(): void;
  /** Absent where there is no other recording. */
  pickUp?: () => void;
  pause(): void;
  /** Where a cut was chosen, and something else is chosen by now. */
  moveCut?: () => void;
}

/** What can be done with the stretch that is chosen. */
export function SelectionActs({ selection, edge, bounds, decimals, first, select, ...acts }: SelectionActsProps) {
  const [byDb, setByDb] = useState(18);
  const box = isBox(selection);
  const turnDown = () => box && acts.turnDown(-byDb);
  useHotkeys('l', acts.repeat);
  useHotkeys('z', acts.closer);
  useHotkeys('m', acts.mark);
  useHotkeys('b', turnDown);
  useHotkeys('d', acts.takeOut);
  useHotkeys('v', acts.cover);
  useHotkeys('q', () => acts.pickUp?.());
  useHotkeys('e', acts.pause);
  useHotkeys('enter', () => acts.moveCut?.());
  const act = (text: string, key: string, press: () => void) => (
    <Button size="compact-sm" variant="default" onClick={press} rightSection={key && <kbd>{key}</kbd>}>
      {text}
    </Button>
  );
  return (
    <section className={classes.acts} aria-label="Chosen stretch">
      <ChosenFields
        selection={selection}
        edge={edge}
        bounds={bounds}
        decimals={decimals}
        first={first}
        select={select}
      />
      {act('Repeat', 'l', acts.repeat)}
      {act('Closer', 'z', acts.closer)}
      {act('Mark', 'm', acts.mark)}
      {box ? (
        <>
          {act('Turn down', 'b', turnDown)}
          <NumberInput
            aria-label="By how many decibels"
            size="xs"
            w={84}
            min={1}
            max={80}
            suffix={'\u2009dB'}
            value={byDb}
            onChange={(value) => setByDb(Number(value) || 1)}
          />
        </>
      ) : (
        <>
          {act('Is room tone', '', () => acts.roomTone('use'))}
          {act('Never room tone', '', () => acts.roomTone('never'))}
        </>
      )}
      <span className={classes.cutGroup}>
        {acts.moveCut && act('Move the cut here', 'Enter', acts.moveCut)}
        {act('Take out', 'd', acts.takeOut)}
        {act('Room tone over it', 'v', acts.cover)}
        {acts.pickUp && act('Pick-up over it', 'q', acts.pickUp)}
        {act('Open a pause', 'e', acts.pause)}
      </span>
    </section>
  );
}
