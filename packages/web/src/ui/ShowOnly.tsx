import { TextInput } from '@mantine/core';
import { useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import classes from './ShowOnly.module.css';

interface ShowOnlyProps {
  /** What can be typed: "a title, a chain, a target". */
  words: string;
  value: string;
  onChange(typed: string): void;
}

/** Shows some of a list by what is typed; a slash goes to it from anywhere on the page, Escape leaves it. */
export function ShowOnly({ words, value, onChange }: ShowOnlyProps) {
  const field = useRef<HTMLInputElement>(null);
  useHotkeys('/', () => field.current?.focus(), { preventDefault: true, useKey: true });
  return (
    <TextInput
      ref={field}
      className={classes.field}
      size="xs"
      variant="unstyled"
      aria-label="Show only"
      placeholder={`Show only: ${words}`}
      rightSection={<kbd>/</kbd>}
      value={value}
      onChange={(event) => onChange(event.currentTarget.value)}
      onKeyDown={(event) => event.key === 'Escape' && event.currentTarget.blur()}
    />
  );
}
