import { Button, Drawer, NumberInput, Select, Tooltip } from '@mantine/core';
import type { Recording } from '@tonos/contract';
import { adjustChain, type ChainStep, stepOf } from '@tonos/core';
import { useState } from 'react';
import { api } from '../api/api.ts';
import { decimalsOf } from '../steps/setting-scale.ts';
import { type SettingSchema, settingsOf } from '../steps/step-catalogue.ts';
import { sayError } from '../ui/notify.ts';
import classes from './AdjustDrawer.module.css';
import { adjustedValue, VARIES } from './adjusted-value.ts';

interface AdjustDrawerProps {
  recordings: readonly Recording[];
  chainId: string | null;
  opened: boolean;
  onClose(): void;
}

/** Changes a chain for some recordings only: the chain's own value stands beside each; where they differ it says so. */
export function AdjustDrawer({ recordings, chainId: first, opened, onClose }: AdjustDrawerProps) {
  const { data: chains = [] } = api.useChainsQuery();
  const [picked, setPicked] = useState<string | null>(null);
  const chainId = picked ?? first ?? chains[0]?.id ?? null;
  const { data: chain } = api.useChainQuery(chainId ?? '', { skip: !chainId || !opened });
  const [change] = api.useChangeRecordingsMutation();
  const ids = recordings.map(({ id }) => id);
  const adjust = async (steps: { id: string; settings: Record<string, unknown> }[], clear: string[] = []) => {
    if (!chainId) return;
    const { error } = await change({ ids, adjust: { chainId, steps, clear, replace: false } });
    if (error) sayError('Nothing was adjusted', error);
  };
  const misfits = chain
    ? recordings.flatMap(({ name, adjustments }) =>
        adjustChain(chain.steps, adjustments[chain.id] ?? []).misfits.map(({ message }) => `${name}: ${message}`),
      )
    : [];
  return (
    <Drawer
      opened={opened}
      onClose={onClose}
      position="right"
      size={520}
      title={
        recordings.length === 1 ? `Adjust for ${recordings[0].name}` : `Adjust for ${recordings.length} recordings`
      }
    >
      <Select
        label="Chain"
        size="sm"
        allowDeselect={false}
        data={chains.map(({ id, name }) => ({ value: id, label: name }))}
        value={chainId}
        onChange={setPicked}
      />
      <p className="quiet small">Only these recordings change; the chain stays as it is for all others.</p>
      {misfits.map((message) => (
        <p key={message} className="advice small">
          {message}
        </p>
      ))}
      {chain?.steps.map((step) => (
        <StepFields
          key={step.id}
          step={step}
          recordings={recordings}
          chainId={chain.id}
          onSet={(key, value) => void adjust([{ id: step.id!, settings: { [key]: value } }])}
          onClear={() => void adjust([], [step.id!])}
        />
      ))}
    </Drawer>
  );
}

interface StepFieldsProps {
  step: ChainStep;
  recordings: readonly Recording[];
  chainId: string;
  onSet(key: string, value: unknown): void;
  onClear(): void;
}

/** Lists of bands and points belong to the chain; single figures and choices can differ. */
const isSingle = (schema: SettingSchema) => schema.type === 'number' || schema.enum !== undefined;

function StepFields({ step, recordings, chainId, onSet, onClear }: StepFieldsProps) {
  const fields = settingsOf(step).filter(([, schema]) => isSingle(schema));
  if (!fields.length) return null;
  const touched = recordings.some(({ adjustments }) => adjustments[chainId]?.some(({ id }) => id === step.id));
  return (
    <section className={classes.step} aria-label={stepOf(step)?.title}>
      <h3 className={classes.title}>
        {stepOf(step)?.title}
        {touched && (
          <Button size="compact-xs" variant="subtle" onClick={onClear}>
            As in the chain
          </Button>
        )}
      </h3>
      {fields.map(([key, schema]) => {
        const shared = step.settings[key] ?? schema.default;
        const value = adjustedValue(recordings, chainId, step.id!, key, shared);
        return (
          <div key={key} className={classes.field} data-changed={value !== shared || undefined}>
            <span>{schema.title}</span>
            <Field schema={schema} value={value} onSet={(next) => onSet(key, next)} />
            <Tooltip label="What the chain has">
              <span className={`figure ${classes.shared}`}>
                {schema.labels?.[String(shared)] ?? String(shared).replace('-', '\u2212')} {schema.unit}
              </span>
            </Tooltip>
          </div>
        );
      })}
    </section>
  );
}

function Field({ schema, value, onSet }: { schema: SettingSchema; value: unknown; onSet(value: unknown): void }) {
  const varies = value === VARIES;
  if (schema.enum)
    return (
      <Select
        size="xs"
        aria-label={schema.title}
        allowDeselect={false}
        placeholder="varies"
        data={schema.enum.map((word) => ({
          value: String(word),
          label: schema.labels?.[String(word)] ?? String(word),
        }))}
        value={varies ? null : String(value)}
        onChange={(next) => next !== null && onSet(schema.enum!.find((word) => String(word) === next))}
      />
    );
  return (
    <NumberInput
      size="xs"
      aria-label={schema.title}
      hideControls
      placeholder="varies"
      min={schema.minimum}
      max={schema.maximum}
      step={10 * (schema.step ?? 0.01)}
      decimalScale={decimalsOf(schema)}
      key={String(value)}
      defaultValue={varies ? undefined : (value as number)}
      onBlur={(event) => {
        const typed = Number(event.currentTarget.value.replace('\u2212', '-'));
        if (event.currentTarget.value.trim() === '' || Number.isNaN(typed) || typed === value) return;
        if (typed >= schema.minimum! && typed <= schema.maximum!) onSet(typed);
      }}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}
