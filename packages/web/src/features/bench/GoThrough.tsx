import { Button, NumberInput, Select } from '@mantine/core';
import type { TimeSpan } from '@tonos/core';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { api } from '../../api/api.ts';
import { clock } from '../../ui/time.ts';
import classes from './Marks.module.css';

interface GoThroughProps {
  recordingId: string;
  show(span: TimeSpan): void;
  cover(spans: readonly TimeSpan[]): void;
}

const LONG_SECONDS = 2;

/** Pauses over a length, or breaths: from one to the next by a key. They are looked for when somebody wants them. */
export function GoThrough({ recordingId, show, cover }: GoThroughProps) {
  const [what, setWhat] = useState<string | null>(null);
  const [least, setLeast] = useState(LONG_SECONDS);
  const [at, setAt] = useState(-1);
  const { data, isFetching } = api.useRecordingGapsQuery(recordingId, { skip: !what });
  const places =
    what === 'breaths'
      ? (data?.breaths ?? [])
      : (data?.pauses ?? []).filter(({ startSeconds, endSeconds }) => endSeconds - startSeconds >= least);
  const go = (by: number) => {
    if (!places.length) return;
    const next = at < 0 ? (by > 0 ? 0 : places.length - 1) : (at + by + places.length) % places.length;
    setAt(next);
    show({ ...places[next] });
  };
  useHotkeys('y', () => go(1), { enabled: !!what });
  useHotkeys('shift+y', () => go(-1), { enabled: !!what });
  return (
    <section className={classes.acts} aria-label="Go through">
      <span className="quiet">Go through</span>
      <Select
        size="xs"
        w={130}
        aria-label="What to go through"
        placeholder="pauses, breaths"
        clearable
        data={[
          { value: 'pauses', label: 'pauses over' },
          { value: 'breaths', label: 'breaths' },
        ]}
        value={what}
        onChange={(value) => {
          setWhat(value);
          setAt(-1);
        }}
      />
      {what === 'pauses' && (
        <NumberInput
          size="xs"
          w={84}
          aria-label="Shortest pause"
          suffix={'\u2009s'}
          min={0.2}
          max={60}
          step={0.1}
          value={least}
          onChange={(value) => {
            setLeast(Number(value) || LONG_SECONDS);
            setAt(-1);
          }}
        />
      )}
      {what && (
        <>
          <span className="quiet">
            {isFetching
              ? 'listening to it'
              : places[at]
                ? `${at + 1} of ${places.length}: ${clock(places[at].startSeconds, 2)}`
                : `${places.length || 'none'}${places.length ? ' in all' : ''}`}
          </span>
          <Button
            size="compact-sm"
            variant="default"
            disabled={!places.length}
            rightSection={<kbd>y</kbd>}
            onClick={() => go(1)}
          >
            Next
          </Button>
          {what === 'breaths' && places.length > 0 && (
            <Button size="compact-sm" variant="default" onClick={() => cover(places)}>
              Room tone over all {places.length}
            </Button>
          )}
        </>
      )}
    </section>
  );
}
