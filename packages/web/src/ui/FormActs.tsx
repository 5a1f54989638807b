import { Button, Group } from '@mantine/core';

interface FormActsProps {
  /** What the form does. */
  act: string;
  isBusy: boolean;
  /** What is wanted is not there yet. */
  isIncomplete?: boolean;
  onCancel(): void;
}

/** What stands under a form: leave it, or do it. */
export function FormActs({ act, isBusy, isIncomplete, onCancel }: FormActsProps) {
  return (
    <Group justify="flex-end">
      <Button variant="default" onClick={onCancel}>
        Cancel
      </Button>
      <Button type="submit" loading={isBusy} disabled={isIncomplete}>
        {act}
      </Button>
    </Group>
  );
}
