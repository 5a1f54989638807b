import { ActionIcon, Tooltip } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import type { Edited } from './history.ts';

interface UndoRedoProps {
  edited: Pick<Edited<unknown>, 'past' | 'future'>;
  onUndo(): void;
  onRedo(): void;
}

export const UndoRedo = ({ edited: { past, future }, onUndo, onRedo }: UndoRedoProps) => (
  <>
    <Tooltip label="Undo (Ctrl z)">
      <ActionIcon size="lg" variant="default" aria-label="Undo" disabled={!past.length} onClick={onUndo}>
        <IconArrowBackUp size={18} />
      </ActionIcon>
    </Tooltip>
    <Tooltip label="Redo (Ctrl Shift z)">
      <ActionIcon size="lg" variant="default" aria-label="Redo" disabled={!future.length} onClick={onRedo}>
        <IconArrowForwardUp size={18} />
      </ActionIcon>
    </Tooltip>
  </>
);
