import { Button, Group, SegmentedControl, Select, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { NewIndexPlace } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../api/api.ts';
import classes from './ThumbIndex.module.css';

const LETTERS = [...'abcdefghijklmnopqrstuvwxyz'];

export interface Placed extends NewIndexPlace {
  letter: string;
  own: boolean;
}

interface PlaceFormProps {
  taken: ReadonlyMap<string, string>;
  onPlace(placed: Placed): Promise<void>;
}

/** Puts a chain or a preset at a letter, for everybody or for this browser alone. */
export function PlaceForm({ taken, onPlace }: PlaceFormProps) {
  const { data: chains = [] } = api.useChainsQuery();
  const { data: presets = [] } = api.usePresetsQuery();
  const [what, setWhat] = useState<string | null>(null);
  const options = [
    { group: 'Chains', items: chains.map(({ id, name }) => ({ value: `chain ${id}`, label: name })) },
    { group: 'Presets', items: presets.map(({ id, name }) => ({ value: `preset ${id}`, label: name })) },
  ];
  const label = options.flatMap(({ items }) => items).find(({ value }) => value === what)?.label;
  const [kind, id] = what?.split(' ') ?? [];
  return (
    <>
      <Select
        label="Chain or preset"
        placeholder="Type its name"
        searchable
        limit={40}
        data={options}
        value={what}
        onChange={setWhat}
        mb="md"
      />
      <LetterFields
        key={what}
        name={label ?? ''}
        taken={taken}
        disabled={!what}
        onPlace={(place) =>
          onPlace({
            ...place,
            content: kind === 'chain' ? { kind: 'chain', chainId: id } : { kind: 'preset', presetId: id },
          })
        }
      />
    </>
  );
}

interface LetterFieldsProps {
  name: string;
  taken: ReadonlyMap<string, string>;
  disabled?: boolean;
  onPlace(place: Omit<Placed, 'content'>): Promise<void>;
}

/** Which letter, under which name, for whom. */
export function LetterFields({ name: first, taken, disabled, onPlace }: LetterFieldsProps) {
  const form = useForm({
    initialValues: { letter: LETTERS.find((one) => !taken.has(one)) ?? 'a', name: first, whose: 'all' },
  });
  const { letter, name } = form.values;
  return (
    <form onSubmit={form.onSubmit(({ whose, ...place }) => void onPlace({ ...place, own: whose === 'own' }))}>
      <Stack>
        <Group align="end" wrap="nowrap">
          <Select
            label="Letter"
            w={84}
            data={LETTERS}
            allowDeselect={false}
            searchable
            {...form.getInputProps('letter')}
          />
          <TextInput
            label="Name on its tab"
            className={classes.grows}
            required
            maxLength={120}
            {...form.getInputProps('name')}
          />
        </Group>
        <SegmentedControl
          aria-label="For whom"
          data={[
            { value: 'all', label: 'For everybody' },
            { value: 'own', label: 'In this browser only' },
          ]}
          {...form.getInputProps('whose')}
        />
        {taken.has(letter) && <p className="small quiet">Takes the place of “{taken.get(letter)}”.</p>}
        <Group justify="flex-end">
          <Button type="submit" disabled={disabled || !name.trim()}>
            Put it at {letter}
          </Button>
        </Group>
      </Stack>
    </form>
  );
}
