import { Combobox, TextInput, useCombobox } from '@mantine/core';
import { useState } from 'react';
import { findKinds } from '../../steps/step-catalogue.ts';
import classes from './AddStep.module.css';

interface AddStepProps {
  inputRef: React.RefObject<HTMLInputElement | null>;
  onAdd(kind: string): void;
}

/** Adds a step by what one wants of it: "hiss", "too sharp", "uneven". */
export function AddStep({ inputRef, onAdd }: AddStepProps) {
  const combobox = useCombobox({ onDropdownClose: () => combobox.resetSelectedOption() });
  const [typed, setTyped] = useState('');
  const found = findKinds(typed);
  return (
    <Combobox
      store={combobox}
      position="top-start"
      width={520}
      onOptionSubmit={(kind) => {
        onAdd(kind);
        setTyped('');
        combobox.closeDropdown();
      }}
    >
      <Combobox.Target>
        <TextInput
          ref={inputRef}
          className={classes.add}
          variant="unstyled"
          aria-label="Add a step"
          placeholder="Add a step: hiss, too sharp, uneven, &hellip;"
          rightSection={<kbd>a</kbd>}
          value={typed}
          onChange={(event) => {
            setTyped(event.currentTarget.value);
            combobox.openDropdown();
            combobox.selectFirstOption();
          }}
          onFocus={() => combobox.openDropdown()}
          onClick={() => combobox.openDropdown()}
          onBlur={() => combobox.closeDropdown()}
          onKeyDown={(event) => event.key === 'Escape' && event.currentTarget.blur()}
        />
      </Combobox.Target>
      <Combobox.Dropdown>
        <Combobox.Options mah={340} style={{ overflowY: 'auto' }}>
          {found.map(({ kind, title, summary }) => (
            <Combobox.Option value={kind} key={kind}>
              <strong>{title}</strong> <span className="quiet">{summary}</span>
            </Combobox.Option>
          ))}
          {found.length === 0 && (
            <Combobox.Empty>No step is known by “{typed}”. Try what you hear: hum, dull, uneven, loud.</Combobox.Empty>
          )}
        </Combobox.Options>
      </Combobox.Dropdown>
    </Combobox>
  );
}
