import { Select } from '@mantine/core';
import { useState } from 'react';
import { api } from '../api/api.ts';
import { LetterFields, type Placed } from './LetterFields.tsx';

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
