import { Button, Group, Modal, Stack, TextInput } from '@mantine/core';
import { useState } from 'react';

interface KeepFormProps {
  opened: boolean;
  number: number;
  onClose(): void;
  onKeep(note: string): Promise<void>;
}

export function KeepForm({ opened, number, onClose, onKeep }: KeepFormProps) {
  const [note, setNote] = useState('');
  const [keeping, setKeeping] = useState(false);
  const keep = async () => {
    setKeeping(true);
    await onKeep(note);
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
            placeholder="Less noise reduction for the new booth"
            value={note}
            onChange={(event) => setNote(event.currentTarget.value)}
            data-autofocus
            maxLength={500}
          />
          <Group justify="flex-end">
            <Button variant="default" onClick={onClose}>
              Cancel
            </Button>
            <Button type="submit" loading={keeping}>
              Keep
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  );
}
