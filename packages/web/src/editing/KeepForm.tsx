import { Modal, Stack, TextInput } from '@mantine/core';
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
  const [note, setNote] = useState('');
  const me = useMe();
  const [changeMe] = api.useChangeMeMutation();
  const [typed, setTyped] = useState<string>();
  const author = typed ?? (me?.name || personName());
  const [keeping, setKeeping] = useState(false);
  const keep = async () => {
    setKeeping(true);
    rememberPerson(author);
    // alone there is no sign-in: who keeps something says who they are
    if (me && !me.shared && author.trim() && author.trim() !== me.name) await changeMe({ name: author });
    await onKeep(note, author);
    setKeeping(false);
    setNote('');
  };
  return (
    <Modal opened={opened} onClose={onClose} title={`Keep as revision ${number}`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <Stack>
          <TextInput
            label="Note"
            description="What changed, and why. Colleagues read it."
            placeholder={example}
            value={note}
            onChange={(event) => setNote(event.currentTarget.value)}
            data-autofocus
            maxLength={500}
          />
          {!me?.shared && (
            <TextInput
              label="Your name"
              description="Stands beside the revision, and beside whatever you do from now on."
              value={author}
              onChange={(event) => setTyped(event.currentTarget.value)}
              maxLength={100}
            />
          )}
          <FormActs act="Keep" isBusy={keeping} onCancel={onClose} />
        </Stack>
      </form>
    </Modal>
  );
});
