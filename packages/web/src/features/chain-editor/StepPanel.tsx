import { NumberInput, Switch } from '@mantine/core';
import { type ChainStep, CUSTOM, type Findings, moduleOf, stepOf } from '@tonos/core';
import { memo, useDeferredValue, useId, useRef } from 'react';
import { Link } from 'react-router';
import { useAppDispatch } from '../../app/store.ts';
import { useKnownModules } from '../../modules/index.ts';
import { ModuleField } from '../../steps/ModuleField.tsx';
import { StepPictures } from '../../steps/pictures/StepPictures.tsx';
import type { StepPicture } from '../../steps/pictures/step-picture.ts';
import { SettingField } from '../../steps/SettingField.tsx';
import { settingsOf } from '../../steps/step-catalogue.ts';
import { takeNumber } from '../../steps/take-number.ts';
import { useLatest } from '../../ui/use-latest.ts';
import { chainEditorSlice, type EditedStep } from './chain-slice.ts';
import { KeptText } from './KeptText.tsx';
import { OutsideHere } from './OutsideHere.tsx';
import { PresetMenu } from './PresetMenu.tsx';
import classes from './StepPanel.module.css';

interface StepPanelProps {
  chainId: string;
  step: EditedStep;
  findings: Findings | undefined;
  picture: StepPicture | null;
  held: boolean;
  onHold(id: string): void;
}

/** A step's settings as a form, and what it does drawn beside it. What is not written in the chain stands at its default. */
export function StepPanel({ chainId, step, findings, picture, held, onHold }: StepPanelProps) {
  const { id, kind, settings, scope, mix, note } = step;
  const dispatch = useAppDispatch();
  useKnownModules();
  const definition = stepOf(step);
  // while a point of the picture is dragged, its fields follow when there is time
  const deferred = useDeferredValue(step);
  const byPicture = useRef(false);
  const shown = byPicture.current ? deferred : step;
  const change = (part: Partial<EditedStep>, touched: string | null) =>
    dispatch(chainEditorSlice.actions.edited({ chainId, id, part, touched }));
  const typed = useLatest((key: string, value: unknown) => {
    byPicture.current = false;
    if (value !== settings[key]) change({ settings: { ...settings, [key]: value } }, key);
  });
  const drawn = useLatest((next: ChainStep['settings']) => {
    byPicture.current = true;
    change({ settings: next }, 'picture');
  });
  const taken = useLatest((next: ChainStep['settings']) => {
    byPicture.current = false;
    change({ settings: next }, null);
  });
  const mixed = useLatest((next: number) => change({ mix: next }, 'mix'));
  const noted = useLatest((next: string) => change({ note: next || undefined }, 'note'));
  if (!definition)
    return (
      <p className={classes.panel}>
        {moduleOf(step) ? (
          <>
            Its module is not in the library of this installation. <Link to="/modules">Bring it in</Link>, and the step
            is what it was.
          </>
        ) : (
          'This step comes from another version of Tonos. It is kept as it is, but can\u2019t be run here.'
        )}
      </p>
    );
  return (
    <div className={classes.panel}>
      <div className={classes.head}>
        <p className={classes.summary}>{definition.summary}</p>
        {settingsOf(step).length > 0 && <PresetMenu step={shown} onTake={taken} />}
      </div>
      <div className={classes.halves}>
        <div className={classes.fields}>
          {kind === CUSTOM && <ModuleField step={shown} onTake={taken} />}
          <Fields step={shown} onChange={typed} />
        </div>
        <StepPictures step={step} findings={findings} picture={picture} onChange={drawn} />
      </div>
      {definition.retime && (
        <p className="quiet small">
          {definition.evenly
            ? 'Its pace and pitch are heard here where it is kept to no marks. The clock stays the recording\u2019s.'
            : 'What it takes out is not heard here; what it adds is heard in a run. The clock stays the recording\u2019s.'}
        </p>
      )}
      <div className={classes.scope}>
        {!definition.retime && <MixField mix={mix} onChange={mixed} />}
        <ScopeField chainId={chainId} id={id} scope={scope} />
        <Switch
          size="xs"
          label="Hold"
          title="Its settings change without being heard or measured, until it is let go"
          checked={held}
          onChange={() => onHold(id)}
        />
        <label htmlFor={`note-${id}`}>Reason</label>
        <KeptText
          id={`note-${id}`}
          style={{ flex: '1 1 240px' }}
          placeholder="why it is there"
          maxLength={500}
          value={note ?? ''}
          onKeep={noted}
        />
      </div>
      <OutsideHere chainId={chainId} stepId={id} />
    </div>
  );
}

interface FieldsProps {
  step: ChainStep;
  onChange(key: string, value: unknown): void;
}

const Fields = memo(function Fields({ step, onChange }: FieldsProps) {
  return settingsOf(step).map(([key, schema]) => (
    <SettingField
      key={key}
      schema={schema}
      value={step.settings[key] ?? schema.default}
      onChange={(value) => onChange(key, value)}
    />
  ));
});

/** How much of the step is heard against what went into it, which is kept in line. */
const MixField = memo(function MixField({ mix, onChange }: { mix: number; onChange(mix: number): void }) {
  const id = useId();
  return (
    <>
      <label htmlFor={id}>Mix</label>
      <NumberInput
        id={id}
        size="xs"
        w={80}
        hideControls
        suffix={'\u2009%'}
        min={0}
        max={100}
        step={5}
        value={Math.round(1000 * mix) / 10}
        onChange={(typed) => takeNumber(typed, 0, 100, (percent) => percent / 100 !== mix && onChange(percent / 100))}
      />
    </>
  );
});

const NOT_BETWEEN = /\s*,\s*/;

/** Where the step applies: everywhere, or inside marks of some names. */
const ScopeField = memo(function ScopeField({
  chainId,
  id,
  scope,
}: {
  chainId: string;
  id: string;
  scope: EditedStep['scope'];
}) {
  const dispatch = useAppDispatch();
  const set = (next: EditedStep['scope']) =>
    dispatch(chainEditorSlice.actions.edited({ chainId, id, part: { scope: next }, touched: 'scope' }));
  const crossfadeMs = scope?.crossfadeMs ?? 20;
  const keep = (typed: string) => {
    const marks = typed.split(NOT_BETWEEN).filter(Boolean);
    set(marks.length ? { marks, crossfadeMs } : undefined);
  };
  return (
    <>
      <label htmlFor={`scope-${id}`}>Only inside marks</label>
      <KeptText
        id={`scope-${id}`}
        w={240}
        placeholder="everywhere"
        value={scope?.marks.join(', ') ?? ''}
        onKeep={keep}
      />
      {scope && <span className="quiet">crossfade</span>}
      {scope && (
        <NumberInput
          size="xs"
          w={110}
          aria-label="Crossfade at their edges"
          suffix={'\u2009ms'}
          min={0}
          max={1000}
          value={crossfadeMs}
          onChange={(next) => takeNumber(next, 0, 1000, (value) => set({ ...scope, crossfadeMs: value }))}
        />
      )}
    </>
  );
});
