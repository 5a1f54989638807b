import { ActionIcon, Button, NumberInput, Select, Slider, Switch, Tooltip, VisuallyHidden } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { useId } from 'react';
import { PointsCsv } from './PointsCsv.tsx';
import classes from './SettingField.module.css';
import { SpectrumField } from './SpectrumField.tsx';
import { decimalsOf, fromShare, toShare } from './setting-scale.ts';
import { defaultsOf, type SettingSchema } from './step-catalogue.ts';
import { takeNumber } from './take-number.ts';

interface SettingFieldProps {
  schema: SettingSchema;
  value: unknown;
  onChange(value: unknown): void;
  /** In a list of bands there is no room for a slider. */
  slim?: boolean;
}

/** The form of one setting, made from its schema: a slider and a figure, a choice, a switch, or a list. */
export function SettingField({ schema, value, onChange, slim }: SettingFieldProps) {
  if (schema.items?.type === 'number')
    return <NumberList schema={schema} value={value as number[]} onChange={onChange} />;
  if (schema.spectrum) return <SpectrumField schema={schema} value={value as never} onChange={onChange} />;
  if (schema.items) return <BandList schema={schema} value={value as Record<string, unknown>[]} onChange={onChange} />;
  if (schema.enum)
    return <ChoiceField schema={schema} value={value as string | number} onChange={onChange} slim={slim} />;
  if (schema.type === 'boolean') {
    return (
      <Switch
        size="sm"
        label={slim ? undefined : schema.title}
        aria-label={schema.title}
        checked={value as boolean}
        onChange={(event) => onChange(event.currentTarget.checked)}
      />
    );
  }
  return <NumberField schema={schema} value={value as number | null} onChange={onChange} slim={slim} />;
}

function NumberField({ schema, value, onChange, slim }: SettingFieldProps & { value: number | null }) {
  const id = useId();
  /** What is left empty has a meaning of its own, which its description says. */
  const mayBeEmpty = schema.default === null;
  const { title, unit, minimum, maximum, step = 0.01, description } = schema;
  const figure = (
    <NumberInput
      id={id}
      classNames={{ input: classes.figure }}
      aria-label={slim ? title : undefined}
      size="xs"
      variant="unstyled"
      hideControls
      value={value ?? ''}
      placeholder={mayBeEmpty ? '\u2013' : undefined}
      min={minimum}
      max={maximum}
      step={10 * step}
      decimalScale={decimalsOf(schema)}
      fixedDecimalScale
      clampBehavior="blur"
      onChange={(next) => (mayBeEmpty && next === '' ? onChange(null) : takeNumber(next, minimum!, maximum!, onChange))}
      stepHoldDelay={400}
      stepHoldInterval={60}
    />
  );
  if (slim) {
    return (
      <span className={classes.slim}>
        {figure}
        <span className="unit">{unit === 'Q' ? '' : unit}</span>
      </span>
    );
  }
  return (
    <div className={classes.row}>
      <Tooltip
        label={`${description ? `${description} ` : ''}${minimum} to ${maximum} ${unit ?? ''}, default ${schema.default ?? 'empty'}`}
        position="top-start"
        multiline
        maw={320}
      >
        <label htmlFor={id} className={classes.label}>
          {title}
        </label>
      </Tooltip>
      {mayBeEmpty ? (
        <span className={classes.slider} />
      ) : (
        <Slider
          className={classes.slider}
          classNames={{ track: classes.track, thumb: classes.thumb }}
          size={2}
          label={null}
          thumbLabel={title}
          min={0}
          max={1}
          step={0.001}
          value={toShare(value!, schema)}
          onChange={(share) => onChange(fromShare(share, schema))}
          onDoubleClick={() => onChange(schema.default)}
        />
      )}
      {figure}
      <span className="unit">{unit}</span>
    </div>
  );
}

function ChoiceField({ schema, value, onChange, slim }: SettingFieldProps & { value: string | number }) {
  const { enum: words = [], labels = {}, title, unit } = schema;
  return (
    <div className={slim ? undefined : classes.row}>
      {!slim && <span className={classes.label}>{title}</span>}
      <Select
        className={classes.choice}
        size="xs"
        aria-label={title}
        allowDeselect={false}
        data={words.map((word) => ({ value: String(word), label: labels[word] ?? `${word}${unit ? ` ${unit}` : ''}` }))}
        value={String(value)}
        onChange={(next) => next !== null && onChange(words.find((word) => String(word) === next))}
      />
    </div>
  );
}

/** A list of figures, such as crossovers. */
function NumberList({ schema, value, onChange }: SettingFieldProps & { value: number[] }) {
  const item = schema.items!;
  const name = (schema.item ?? 'Figure').toLowerCase();
  return (
    <div className={classes.figures}>
      <span className={classes.label}>{schema.title}</span>
      {value.map((one, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: figures have no name but their place
        <span key={index} className={classes.slim}>
          <NumberField
            slim
            schema={item}
            value={one}
            onChange={(next) => onChange(value.with(index, next as number))}
          />
          {value.length > (schema.minItems ?? 0) && (
            <ActionIcon
              size="sm"
              aria-label={`Remove ${name} ${index + 1}`}
              onClick={() => onChange(value.toSpliced(index, 1))}
            >
              <IconTrash size={15} />
            </ActionIcon>
          )}
        </span>
      ))}
      {value.length < (schema.maxItems ?? Number.POSITIVE_INFINITY) && (
        <Button size="compact-xs" variant="default" onClick={() => onChange([...value, item.default])}>
          Add {name}
        </Button>
      )}
    </div>
  );
}

interface BandListProps {
  schema: SettingSchema;
  value: Record<string, unknown>[];
  onChange(value: unknown): void;
}

/** A list of equal entries, such as the bands of an equaliser: a row each. */
function BandList({ schema, value, onChange }: BandListProps) {
  const properties = Object.entries(schema.items!.properties ?? {});
  const name = schema.item ?? 'Entry';
  const set = (index: number, key: string, next: unknown) =>
    onChange(value.map((band, i) => (i === index ? { ...band, [key]: next } : band)));
  return (
    <div className={classes.whole}>
      <span className={classes.label}>{schema.title}</span>
      {value.length > 0 && (
        <table className={classes.bands}>
          <thead>
            <tr>
              {properties.map(([key, { title }]) => (
                <th key={key}>{title}</th>
              ))}
              <th>
                <VisuallyHidden>Remove</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {value.map((band, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: bands have no name but their place
              <tr key={index}>
                {properties.map(([key, property]) => (
                  <td key={key}>
                    <SettingField
                      slim
                      schema={property}
                      value={band[key] ?? property.default}
                      onChange={(next) => set(index, key, next)}
                    />
                  </td>
                ))}
                <td>
                  <ActionIcon
                    size="sm"
                    aria-label={`Remove ${name.toLowerCase()} ${index + 1}`}
                    onClick={() => onChange(value.toSpliced(index, 1))}
                  >
                    <IconTrash size={15} />
                  </ActionIcon>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Button size="xs" variant="default" onClick={() => onChange([...value, defaultsOf(properties)])}>
        Add {name.toLowerCase()}
      </Button>
      {schema.csv && <PointsCsv schema={schema} value={value} onChange={onChange} />}
    </div>
  );
}
