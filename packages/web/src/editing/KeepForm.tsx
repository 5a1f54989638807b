import { Modal, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { memo, useState } from 'react';
import { api } from '../api/api.ts';
import { useMe } from '../people/use-me.ts';
import { FormActs } from '../ui/FormActs.tsx';
import { personName, rememberPerson } from '../ui/person.ts';

interface KeepFormProps {
  opened: boolean;
  number: number;
  /** A note as somebody might write it. */
  example: string;
  onClose(): void;
  onKeep(note: string, author: string): Promise<void>;
}

export const KeepForm = memo(function KeepForm({ opened, number, example, onClose, onKeep }: KeepFormProps) {
  const me = useMe();
  const [changeMe] = api.useChangeMeMutation();
  // who one is may be known a moment later than the form
  const form = useForm<{ note: string; typed: string | null }>({ initialValues: { note: '', typed: null } });
  const { note, typed } = form.values;
  const author = typed ?? (me?.name || personName());
  const [keeping, setKeeping] = useState(false);
  const keep = async () => {
    setKeeping(true);
    rememberPerson(author);
    // alone there is no sign-in: who keeps something says who they are
    if (me && !me.shared && author.trim() && author.trim() !== me.name) await changeMe({ name: author });
    await onKeep(note, author);
    setKeeping(false);
    form.setFieldValue('note', '');
  };
  return (
    <Modal opened={opened} onClose={onClose} title={`Keep as revision ${number}`}>
      <form onSubmit={form.onSubmit(() => void keep())}>
        <Stack>
          <TextInput
            label="Note"
            description="What changed, and why. Colleagues read it."
            placeholder={example}
            data-autofocus
            maxLength={500}
            {...form.getInputProps('note')}
          />
          {!me?.shared && (
            <TextInput
              label="Your name"
              description="Stands beside the revision, and beside whatever you do from now on."
              maxLength={100}
              {...form.getInputProps('typed')}
              value={author}
            />
          )}
          <FormActs act="Keep" isBusy={keeping} onCancel={onClose} />
        </Stack>
      </form>
    </Modal>
  );
});
