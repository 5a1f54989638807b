import { Button, Group, SegmentedControl, Select, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { NewIndexPlace } from '@tonos/contract';
import classes from './ThumbIndex.module.css';

const LETTERS = [...'abcdefghijklmnopqrstuvwxyz'];

export interface Placed extends NewIndexPlace {
  letter: string;
  own: boolean;
}

export interface LetterFieldsProps {
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
