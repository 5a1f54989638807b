import { Select } from '@mantine/core';
import type { Recording } from '@tonos/contract';
import { memo } from 'react';
import type { Fill } from './lay-out-order.ts';
import classes from './OrderPage.module.css';

interface ShownWithProps {
  places: readonly string[];
  recordings: readonly Recording[];
  fill: Fill;
  onChange(fill: Fill): void;
}

/** With what the open places are filled while the pattern is looked at. */
export const ShownWith = memo(function ShownWith({ places, recordings, fill, onChange }: ShownWithProps) {
  if (!places.length) return null;
  return (
    <div className={classes.shown}>
      <span className="quiet small">Shown with</span>
      {places.map((place) => (
        <Select
          key={place}
          size="xs"
          aria-label={`What fills ${place} here`}
          placeholder={`${place}: a minute of nothing`}
          searchable
          data={recordings.map(({ id, name, givenName }) => ({ value: id, label: `${place}: ${givenName || name}` }))}
          value={fill[place] ?? null}
          onChange={(value) => value && onChange({ ...fill, [place]: value })}
        />
      ))}
    </div>
  );
});
