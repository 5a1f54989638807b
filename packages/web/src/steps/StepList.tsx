import { ActionIcon, NumberInput, Switch } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconTrash } from '@tabler/icons-react';
import { type ChainStep, CUSTOM, type Findings, type LedgerFigures, stepOf } from '@tonos/core';
import { type KeyboardEvent, useRef, useState } from 'react';
import { useKnownModules } from '../modules/index.ts';
import { AddStep } from './AddStep.tsx';
import { describeStep, nameOfStep } from './describe-step.ts';
import { ModuleField } from './ModuleField.tsx';
import { StepPictures } from './pictures/StepPictures.tsx';
import { SettingField } from './SettingField.tsx';
import { StepLevels } from './StepLevels.tsx';
import classes from './StepList.module.css';
import { defaultsOf, settingsOf } from './step-catalogue.ts';
import { changedStep, movedStep, type NamedStep, withNewStep, withoutStep } from './step-list.ts';
import { takeNumber } from './take-number.ts';

/** What a chain was measured to do where it is used. */
export interface ChainAccount {
  /** What comes to it. */
  before: LedgerFigures;
  /** Behind each step that was on, by its id. */
  behind: ReadonlyMap<string, LedgerFigures>;
  /** What its steps learned, by their ids. */
  found: Readonly<Record<string, Findings>>;
  /** Whether it is of the steps as they are now. */
  fresh: boolean;
}

interface StepListProps {
  /** As readers call the list. */
  label: string;
  steps: readonly NamedStep[];
  account?: ChainAccount;
  /** @param touched what was changed, so that a figure that is typed is one act of undo; null for an act by itself */
  onChange(steps: NamedStep[], touched: string | null): void;
}

/** A chain's steps where it is used: switched, set, moved, added and taken out. */
export function StepList({ label, steps, account, onChange }: StepListProps) {
  useKnownModules();
  const [opened, setOpened] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const keys = (at: number) => (event: KeyboardEvent) => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    onChange(movedStep(steps, at, event.key === 'ArrowUp' ? -1 : 1), null);
  };
  return (
    <div>
      {steps.length === 0 && <p className="quiet small">No step: the sound stays as it is.</p>}
      {account && steps.length > 0 && (
        <div className={classes.row}>
          <span className={`${classes.name} quiet small`}>What comes to it</span>
          <StepLevels figures={account.before} fresh={account.fresh} />
          <span className={classes.acts} />
        </div>
      )}
      <ol className={classes.list} aria-label={label}>
        {steps.map((step, at) => {
          const { id } = step;
          const { text, wrong } = describeStep(step);
          const name = nameOfStep(step);
          const change = (part: Partial<ChainStep>, touched: string | null) =>
            onChange(changedStep(steps, id, part), touched && `${id}/${touched}`);
          return (
            <li key={id}>
              <div className={classes.row} data-off={!step.on || undefined}>
                <button
                  type="button"
                  className={classes.name}
                  aria-expanded={opened === id}
                  onClick={() => setOpened(opened === id ? null : id)}
                  onKeyDown={keys(at)}
                >
                  <strong>{name}</strong> <span className={wrong ? 'verdict-over' : 'quiet'}>{text}</span>
                </button>
                {account && <StepLevels figures={account.behind.get(id)} fresh={account.fresh} />}
                <span className={classes.acts}>
                  <ActionIcon
                    size="sm"
                    aria-label={`Move ${name} up`}
                    disabled={at === 0}
                    onClick={() => onChange(movedStep(steps, at, -1), null)}
                  >
                    <IconArrowUp size={15} />
                  </ActionIcon>
                  <ActionIcon
                    size="sm"
                    aria-label={`Move ${name} down`}
                    disabled={at === steps.length - 1}
                    onClick={() => onChange(movedStep(steps, at, 1), null)}
                  >
                    <IconArrowDown size={15} />
                  </ActionIcon>
                  <Switch
                    size="xs"
                    aria-label={`${name} on`}
                    checked={step.on}
                    onChange={(event) => change({ on: event.currentTarget.checked }, null)}
                  />
                  <ActionIcon
                    size="sm"
                    aria-label={`Remove ${name}`}
                    onClick={() => onChange(withoutStep(steps, id), null)}
                  >
                    <IconTrash size={15} />
                  </ActionIcon>
                </span>
              </div>
              {opened === id && (
                <div className={classes.opened}>
                  <Fields step={step} change={change} />
                  {stepOf(step) && (
                    <StepPictures
                      step={step}
                      findings={account?.found[id]}
                      picture={null}
                      onChange={(settings) => change({ settings }, 'picture')}
                    />
                  )}
                </div>
              )}
            </li>
          );
        })}
      </ol>
      <AddStep
        inputRef={input}
        onAdd={(kind, settings = {}) => {
          const made = withNewStep(steps, {
            kind,
            settings: { ...defaultsOf(settingsOf({ kind, settings })), ...settings },
          });
          onChange(made, null);
          setOpened(made.at(-1)!.id);
        }}
      />
    </div>
  );
}

interface FieldsProps {
  step: NamedStep;
  change(part: Partial<ChainStep>, touched: string | null): void;
}

function Fields({ step, change }: FieldsProps) {
  const { kind, settings, mix } = step;
  return (
    <div className={classes.fields}>
      {kind === CUSTOM && <ModuleField step={step} onTake={(next) => change({ settings: next }, null)} />}
      {settingsOf(step).map(([key, schema]) => (
        <SettingField
          key={key}
          schema={schema}
          value={settings[key] ?? schema.default}
          onChange={(value) => value !== settings[key] && change({ settings: { ...settings, [key]: value } }, key)}
        />
      ))}
      <div className={classes.mix}>
        <label htmlFor={`mix-${step.id}`}>Mix</label>
        <NumberInput
          id={`mix-${step.id}`}
          size="xs"
          w={80}
          hideControls
          suffix={'\u2009%'}
          min={0}
          max={100}
          value={Math.round(1000 * mix) / 10}
          onChange={(typed) =>
            takeNumber(typed, 0, 100, (percent) => percent / 100 !== mix && change({ mix: percent / 100 }, 'mix'))
          }
        />
      </div>
    </div>
  );
}
