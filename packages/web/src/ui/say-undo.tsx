import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import classes from './SayUndo.module.css';

/** Says what was done, for long enough to take it back. */
export function sayUndo(message: string, undo: () => void, word = 'Undo'): void {
  const id = notifications.show({
    autoClose: 15_000,
    message: (
      <div className={classes.line}>
        {message}
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => {
            notifications.hide(id);
            undo();
          }}
        >
          {word}
        </Button>
      </div>
    ),
  });
}
