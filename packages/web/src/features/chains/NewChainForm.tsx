import { Modal, Stack, TextInput } from '@mantine/core';
import { schemaResolver, useForm } from '@mantine/form';
import { useNavigate } from 'react-router';
import * as z from 'zod';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { FormActs } from '../../ui/FormActs.tsx';

const schema = z.object({ name: z.string().trim().min(1, 'A chain needs a name.').max(200) });

/** P27: a chain is named when it is made, so that nobody has to rename “New chain”. */
export function NewChainForm({ opened, onClose }: { opened: boolean; onClose(): void }) {
  const [add, { isLoading, error }] = api.useAddChainMutation();
  const navigate = useNavigate();
  const form = useForm({ initialValues: { name: '' }, validate: schemaResolver(schema, { sync: true }) });
  const make = async (values: typeof form.values) => {
    const { data } = await add({ ...schema.parse(values), steps: [] });
    if (data) void navigate(`/chains/${data.id}`);
  };
  return (
    <Modal opened={opened} onClose={onClose} title="New chain">
      <form onSubmit={form.onSubmit((values) => void make(values))}>
        <Stack>
          <TextInput
            label="Name"
            description="What it is for: a voice, a microphone, a room"
            data-autofocus
            key={form.key('name')}
            {...form.getInputProps('name')}
            error={form.errors.name ?? (error ? reasonOf(error) : undefined)}
          />
          <FormActs act="Make chain" isBusy={isLoading} onCancel={onClose} />
        </Stack>
      </form>
    </Modal>
  );
}
