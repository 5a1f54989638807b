import { Button, Checkbox, Group, SegmentedControl, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { describeStep, nameOfStep } from '../../steps/describe-step.ts';
import { LetterFields, usePlaces } from '../../thumb-index/index.ts';
import { say, sayError } from '../../ui/notify.ts';
import type { EditedStep } from './chain-slice.ts';

interface KeepPartProps {
  chainName: string;
  steps: readonly EditedStep[];
  onDone(): void;
}

/** Some steps of a chain, kept as a chain of their own or at a letter of the index. */
export function KeepPart({ chainName, steps, onDone }: KeepPartProps) {
  const form = useForm<{ chosen: string[]; as: 'chain' | 'index'; name: string }>({
    initialValues: { chosen: [], as: 'chain', name: `${chainName}, part` },
  });
  const { chosen, as, name } = form.values;
  const [add] = api.useAddChainMutation();
  const { taken, put } = usePlaces();
  const navigate = useNavigate();
  const part = steps.filter(({ id }) => chosen.includes(id));
  const keepChain = async () => {
    const { data, error } = await add({ name, steps: part });
    if (!data) return sayError('No chain was made', error);
    say(`${part.length} steps are a chain of their own now.`);
    onDone();
    void navigate(`/chains/${data.id}`);
  };
  return (
    <Stack>
      <Checkbox.Group {...form.getInputProps('chosen')} label="Steps">
        <Stack gap={6} mt={6}>
          {steps.map((step) => (
            <Checkbox key={step.id} value={step.id} label={`${nameOfStep(step)}: ${describeStep(step).text}`} />
          ))}
        </Stack>
      </Checkbox.Group>
      <SegmentedControl
        aria-label="Keep them as"
        data={[
          { value: 'chain', label: 'As a new chain' },
          { value: 'index', label: 'In the index' },
        ]}
        {...form.getInputProps('as')}
      />
      {as === 'chain' ? (
        <form onSubmit={form.onSubmit(() => void keepChain())}>
          <Stack>
            <TextInput label="Name" required maxLength={200} {...form.getInputProps('name')} />
            <Group justify="flex-end">
              <Button type="submit" disabled={!part.length || !name.trim()}>
                Keep {part.length || 'no'} {part.length === 1 ? 'step' : 'steps'}
              </Button>
            </Group>
          </Stack>
        </form>
      ) : (
        <LetterFields
          key={chosen.join()}
          name={part.map(nameOfStep).join(', ')}
          taken={taken}
          disabled={!part.length}
          onPlace={async (place) => {
            const content = { kind: 'steps' as const, steps: part.map(({ id: _, ...step }) => step) };
            if (await put({ ...place, content })) onDone();
          }}
        />
      )}
    </Stack>
  );
}
