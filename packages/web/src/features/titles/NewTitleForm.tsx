import { Modal, SegmentedControl, Stack, TextInput } from '@mantine/core';
import type { NewTitle } from '@tonos/contract';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { FormActs } from '../../ui/FormActs.tsx';

export function NewTitleForm({ opened, onClose }: { opened: boolean; onClose(): void }) {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<NewTitle['kind']>('audiobook');
  const [add, { isLoading, error }] = api.useAddTitleMutation();
  const navigate = useNavigate();
  const submit = async () => {
    const { data } = await add({ name, kind });
    if (!data) return;
    onClose();
    void navigate(`/titles/${data.id}`);
  };
  return (
    <Modal opened={opened} onClose={onClose} title="New title">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <Stack>
          <TextInput
            label="Name"
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
            data-autofocus
            required
            error={error ? reasonOf(error) : undefined}
          />
          <SegmentedControl
            aria-label="Kind"
            value={kind}
            onChange={(value) => setKind(value as NewTitle['kind'])}
            data={[
              { value: 'audiobook', label: 'Audiobook' },
              { value: 'podcast', label: 'Podcast' },
            ]}
          />
          <FormActs act="Make title" isBusy={isLoading} isIncomplete={!name.trim()} onCancel={onClose} />
        </Stack>
      </form>
    </Modal>
  );
}
