import { ActionIcon, Tooltip } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import type { Trashed } from '@tonos/contract';
import { useThrowAway } from './use-throw-away.ts';

interface ThrowAwayButtonProps {
  what: Trashed;
  /** As messages call it. */
  name: string;
  disabled?: boolean;
  onGone?(): void;
}

/** Moves something to the trash, from where it comes back. */
export function ThrowAwayButton({ what, name, disabled, onGone }: ThrowAwayButtonProps) {
  const throwAway = useThrowAway();
  return (
    <Tooltip label="Move to the trash">
      <ActionIcon
        aria-label={`Move to the trash: ${name}`}
        disabled={disabled}
        onClick={async () => {
          if (await throwAway(what, name)) onGone?.();
        }}
      >
        <IconTrash size={16} />
      </ActionIcon>
    </Tooltip>
  );
}
