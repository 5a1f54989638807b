import { Modal, Stack, Textarea } from '@mantine/core';
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
  const [sentence, setSentence] = useState('');
  const [approving, setApproving] = useState(false);
  const approve = async () => {
    setApproving(true);
    await onApprove(sentence);
    setApproving(false);
    setSentence('');
  };
  return (
    <Modal opened={what !== null} onClose={onClose} title={`Approve ${what ?? ''}`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void approve();
        }}
      >
        <Stack>
          <Textarea
            label="In a sentence"
            description="What it was heard on, and what it is good for. It stands beside it."
            placeholder="Heard on all voices of the spring list"
            autosize
            minRows={2}
            maxLength={2000}
            required
            value={sentence}
            onChange={(event) => setSentence(event.currentTarget.value)}
            data-autofocus
          />
          <FormActs act="Approve" isBusy={approving} isIncomplete={!sentence.trim()} onCancel={onClose} />
        </Stack>
      </form>
    </Modal>
  );
}
