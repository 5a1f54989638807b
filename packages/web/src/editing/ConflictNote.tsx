import { Button } from '@mantine/core';
import type { Conflict } from './use-draft.ts';

/** Two wrote at once: whose counts is for a person to say. */
export function ConflictNote({ what, conflict }: { what: string; conflict: Conflict | undefined }) {
  if (!conflict) return null;
  return (
    <p className="advice" role="alert">
      {conflict.author || 'Somebody else'} changed this {what} while you did. Yours is not saved yet.
      <Button size="compact-sm" variant="default" ml={12} onClick={conflict.takeTheirs}>
        Take theirs
      </Button>
      <Button size="compact-sm" variant="default" ml={6} onClick={conflict.keepMine}>
        Save mine over it
      </Button>
    </p>
  );
}
