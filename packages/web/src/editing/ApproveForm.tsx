import { Modal, Stack, Textarea } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useState } from 'react';
import { FormActs } from '../ui/FormActs.tsx';

interface ApproveFormProps {
  /** Such as revision 3; none: the form is shut. */
  what: string | null;
  onClose(): void;
  onApprove(sentence: string): Promise<void>;
}

/** A lead stands for a revision, and says in a sentence what for. */
export function ApproveForm({ what, onClose, onApprove }: ApproveFormProps) {
  const form = useForm({ initialValues: { sentence: '' } });
  const [approving, setApproving] = useState(false);
  const approve = async ({ sentence }: { sentence: string }) => {
    setApproving(true);
    await onApprove(sentence);
    setApproving(false);
    form.reset();
  };
  return (
    <Modal opened={what !== null} onClose={onClose} title={`Approve ${what ?? ''}`}>
      <form onSubmit={form.onSubmit((values) => void approve(values))}>
        <Stack>
          <Textarea
            label="In a sentence"
            description="What it was heard on, and what it is good for. It stands beside it."
            placeholder="Heard on all voices of the spring list"
            autosize
            minRows={2}
            maxLength={2000}
            required
            {...form.getInputProps('sentence')}
            data-autofocus
          />
          <FormActs act="Approve" isBusy={approving} isIncomplete={!form.values.sentence.trim()} onCancel={onClose} />
        </Stack>
      </form>
    </Modal>
  );
}
