import { Combobox, TextInput, useCombobox } from '@mantine/core';
import { CUSTOM, stepOf } from '@tonos/core';
import { memo, useEffect, useState } from 'react';
import { api } from '../api/api.ts';
import classes from './AddStep.module.css';
import { namedAs, settingsWith } from './ModuleField.tsx';
import { findKinds, findModules, findPresets } from './step-catalogue.ts';

interface AddStepProps {
  inputRef: React.RefObject<HTMLInputElement | null>;
  /** The key that leads here, where there is one. */
  shortcut?: string;
  /** With the settings of a preset where one was chosen. */
  onAdd(kind: string, settings?: Record<string, unknown>): void;
}

/** Marks the options that are presets. */
const PRESET = 'preset ';
/** And those that are modules. */
const MODULE = 'module ';

/**
 * Marks what Enter would add. Its place is in the dropdown, behind the list: the dropdown comes into the page some
 * time after it was opened, and what is marked before that is marked in nothing.
 */
function FirstMarked({ typed, mark }: { typed: string; mark(): unknown }) {
  useEffect(() => {
    if (typed) mark();
  }, [typed, mark]);
  return null;
}

/** Adds a step by what one wants of it: "hiss", "too sharp", "uneven". */
export const AddStep = memo(function AddStep({ inputRef, shortcut, onAdd }: AddStepProps) {
  const combobox = useCombobox({ onDropdownClose: () => combobox.resetSelectedOption() });
  const [typed, setTyped] = useState('');
  const found = findKinds(typed).filter(({ kind }) => kind !== CUSTOM);
  const { data: modules = [] } = api.useModulesQuery();
  const foundModules = findModules(modules, typed);
  const { data: presets = [] } = api.usePresetsQuery();
  const foundPresets = typed.trim() ? findPresets(presets, typed) : [];
  return (
    <Combobox
      store={combobox}
      position="top-start"
      width={520}
      // what stands above can grow while the list is open, and the field goes with it: the list stays
      hideDetached={false}
      onOptionSubmit={(value) => {
        const preset = presets.find(({ id }) => value === PRESET + id);
        const own = modules.find(({ sha256 }) => value === MODULE + sha256);
        if (preset) onAdd(preset.kind, preset.settings);
        else if (own) onAdd(CUSTOM, settingsWith(namedAs(own)));
        else onAdd(value);
        setTyped('');
        combobox.closeDropdown();
      }}
    >
      <Combobox.Target withExpandedAttribute>
        <TextInput
          ref={inputRef}
          className={classes.add}
          variant="unstyled"
          role="combobox"
          aria-label="Add a step"
          placeholder="Add a step: hiss, too sharp, uneven, &hellip;"
          rightSection={shortcut && <kbd>{shortcut}</kbd>}
          value={typed}
          onChange={(event) => {
            setTyped(event.currentTarget.value);
            combobox.openDropdown();
          }}
          onFocus={() => combobox.openDropdown()}
          onClick={() => combobox.openDropdown()}
          onBlur={() => combobox.closeDropdown()}
          onKeyDown={(event) => event.key === 'Escape' && event.currentTarget.blur()}
        />
      </Combobox.Target>
      <Combobox.Dropdown>
        <Combobox.Options aria-label="Steps and presets" mah={340} style={{ overflowY: 'auto' }}>
          {found.map(({ kind, title, summary }) => (
            <Combobox.Option className={classes.option} value={kind} key={kind}>
              <strong>{title}</strong> <span className="quiet">{summary}</span>
            </Combobox.Option>
          ))}
          {foundModules.map(({ sha256, manifest }) => (
            <Combobox.Option className={classes.option} value={MODULE + sha256} key={sha256}>
              <strong>{manifest.name}</strong>{' '}
              <span className="quiet">
                module {manifest.version}: {manifest.summary}
              </span>
            </Combobox.Option>
          ))}
          {foundPresets.map(({ id, kind, name, tags, settings }) => (
            <Combobox.Option className={classes.option} value={PRESET + id} key={id}>
              <strong>{stepOf({ kind, settings })?.title ?? kind}</strong>{' '}
              <span className="quiet">
                preset: {name}
                {tags.length > 0 && ` (${tags.join(', ')})`}
              </span>
            </Combobox.Option>
          ))}
          {found.length + foundModules.length + foundPresets.length === 0 && (
            <Combobox.Empty>No step is known by “{typed}”. Try what you hear: hum, dull, uneven, loud.</Combobox.Empty>
          )}
        </Combobox.Options>
        <FirstMarked typed={typed} mark={combobox.selectFirstOption} />
      </Combobox.Dropdown>
    </Combobox>
  );
});
