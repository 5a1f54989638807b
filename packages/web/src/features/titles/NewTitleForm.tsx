import { Modal, SegmentedControl, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { NewTitle } from '@tonos/contract';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { FormActs } from '../../ui/FormActs.tsx';

export function NewTitleForm({ opened, onClose }: { opened: boolean; onClose(): void }) {
  const form = useForm<NewTitle>({ initialValues: { name: '', kind: 'audiobook' } });
  const [add, { isLoading, error }] = api.useAddTitleMutation();
  const navigate = useNavigate();
  const submit = async (values: NewTitle) => {
    const { data } = await add(values);
    if (!data) return;
    onClose();
    void navigate(`/titles/${data.id}`);
  };
  return (
    <Modal opened={opened} onClose={onClose} title="New title">
      <form onSubmit={form.onSubmit((values) => void submit(values))}>
        <Stack>
          <TextInput
            label="Name"
            data-autofocus
            required
            {...form.getInputProps('name')}
            error={error ? reasonOf(error) : undefined}
          />
          <SegmentedControl
            aria-label="Kind"
            data={[
              { value: 'audiobook', label: 'Audiobook' },
              { value: 'podcast', label: 'Podcast' },
            ]}
            {...form.getInputProps('kind')}
          />
          <FormActs act="Make title" isBusy={isLoading} isIncomplete={!form.values.name.trim()} onCancel={onClose} />
        </Stack>
      </form>
    </Modal>
  );
}
