import { Button, Popover, Select } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { hertzFigure } from '@tonos/core';
import { api } from '../api/api.ts';
import { sayError } from '../ui/notify.ts';
import { useTitleChoice } from '../ui/use-title-choice.tsx';
import classes from './SettingField.module.css';
import type { SettingSchema } from './step-catalogue.ts';

interface Band {
  frequencyHz: number;
  levelDb: number;
}

interface SpectrumFieldProps {
  schema: SettingSchema;
  value: readonly Band[];
  onChange(value: Band[]): void;
}

/** A stored spectrum: taken from where somebody speaks in a recording. */
export function SpectrumField({ schema, value, onChange }: SpectrumFieldProps) {
  const [choosing, popover] = useDisclosure(false);
  const hz = value.map(({ frequencyHz }) => frequencyHz);
  return (
    <div className={classes.figures}>
      <span className={classes.label}>{schema.title}</span>
      <span className="quiet">
        {value.length
          ? `${value.length} bands, ${hertzFigure(Math.min(...hz))} to ${hertzFigure(Math.max(...hz))}`
          : 'none: nothing changes'}
      </span>
      <Popover
        opened={choosing}
        onChange={(opened) => (opened ? popover.open() : popover.close())}
        position="bottom-start"
        shadow="md"
        trapFocus
      >
        <Popover.Target>
          <Button size="compact-xs" variant="default" onClick={popover.toggle}>
            Take from a recording
          </Button>
        </Popover.Target>
        <Popover.Dropdown>
          {choosing && (
            <TakeFrom
              onTake={(bands) => {
                onChange(bands);
                popover.close();
              }}
            />
          )}
        </Popover.Dropdown>
      </Popover>
      {value.length > 0 && (
        <Button size="compact-xs" variant="subtle" onClick={() => onChange([])}>
          None
        </Button>
      )}
    </div>
  );
}

function TakeFrom({ onTake }: { onTake(bands: Band[]): void }) {
  const { select, measured } = useTitleChoice();
  const [ask] = api.useLazyRecordingSpectrumQuery();
  const take = async (id: string) => {
    const { data, error } = await ask(id);
    if (!data?.spectrum) return sayError('The spectrum was not taken', error ?? new Error('It has none yet.'));
    const { centresHz, loudDb } = data.spectrum;
    onTake(centresHz.flatMap((frequencyHz, i) => (loudDb[i] === null ? [] : [{ frequencyHz, levelDb: loudDb[i] }])));
  };
  return (
    <div className={classes.take}>
      {select}
      <Select
        size="xs"
        label="Recording that sounds as wanted"
        placeholder="Choose"
        data={measured.map(({ id, name }) => ({ value: id, label: name }))}
        value={null}
        onChange={(id) => id && void take(id)}
        comboboxProps={{ withinPortal: false }}
      />
    </div>
  );
}
