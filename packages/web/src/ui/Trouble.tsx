import { Button } from '@mantine/core';
import { reasonOf } from '../api/reason-of.ts';

/** Says why something could not be loaded, and offers to try again. */
export function Trouble({ error, retry }: { error: unknown; retry(): void }) {
  return (
    <div className="empty" role="alert">
      <p>{reasonOf(error)}</p>
      <Button variant="default" onClick={retry}>
        Try again
      </Button>
    </div>
  );
}
