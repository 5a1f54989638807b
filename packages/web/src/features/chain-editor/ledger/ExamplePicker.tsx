import { Checkbox, Popover } from '@mantine/core';
import { memo, useState } from 'react';
import { useTitleChoice } from '../../../ui/use-title-choice.tsx';
import { MOST_EXAMPLES } from './example-slice.ts';
import classes from './Ledger.module.css';
import type { Example } from './use-example.ts';

/** The recording that the ledger is made of, and those that are watched beside it. */
export const ExamplePicker = memo(function ExamplePicker({
  example: { watched, recording, change },
}: {
  example: Example;
}) {
  const [opened, setOpened] = useState(false);
  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-start" shadow="md" trapFocus>
      <Popover.Target>
        <button
          type="button"
          className={classes.pick}
          title="Choose the example"
          aria-label={recording ? `Example: ${recording.name}. Choose another` : 'Choose a recording as the example'}
          onClick={() => setOpened(!opened)}
        >
          {recording?.name ?? 'Choose a recording'}
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        {opened && (
          <Choices
            titleId={recording?.titleId}
            chosen={watched.recordingIds.length ? watched.recordingIds : recording ? [recording.id] : []}
            onChoose={(recordingIds, close) => {
              change({ recordingIds });
              if (close) setOpened(false);
            }}
          />
        )}
      </Popover.Dropdown>
    </Popover>
  );
});

interface ChoicesProps {
  titleId: string | undefined;
  chosen: readonly string[];
  onChoose(ids: string[], close: boolean): void;
}

function Choices({ titleId: first, chosen, onChoose }: ChoicesProps) {
  const { select, measured } = useTitleChoice(first);
  const rest = chosen.slice(1);
  return (
    <div className={classes.examples}>
      {select}
      <div className={classes.choices}>
        {measured.map(({ id, name }) => (
          <div key={id} className={classes.choice}>
            <button
              type="button"
              className={classes.choiceName}
              data-chosen={id === chosen[0] || undefined}
              onClick={() => onChoose([id, ...rest.filter((one) => one !== id)], true)}
            >
              {name}
            </button>
            {id !== chosen[0] && (
              <Checkbox
                size="xs"
                label="beside"
                aria-label={`Watch ${name} beside`}
                checked={rest.includes(id)}
                disabled={!rest.includes(id) && chosen.length >= MOST_EXAMPLES}
                onChange={(event) =>
                  onChoose(event.currentTarget.checked ? [...chosen, id] : chosen.filter((one) => one !== id), false)
                }
              />
            )}
          </div>
        ))}
      </div>
      <p className="quiet small">Press a name to see it row by row. Those beside it are shown by their last row.</p>
    </div>
  );
}
