import { TextInput, type TextInputProps } from '@mantine/core';
import { useState } from 'react';

interface KeptTextProps extends Pick<TextInputProps, 'id' | 'placeholder' | 'maxLength' | 'w' | 'style'> {
  value: string;
  /** Told once the field is left, or Enter pressed, with another text in it. */
  onKeep(text: string): void;
}

/** A text that is kept when one is done with it, and follows where it is changed elsewhere, as by undo. */
export function KeptText({ value, onKeep, ...rest }: KeptTextProps) {
  const [typed, setTyped] = useState(value);
  const [followed, setFollowed] = useState(value);
  if (followed !== value) {
    setFollowed(value);
    setTyped(value);
  }
  const keep = () => typed.trim() !== value && onKeep(typed.trim());
  return (
    <TextInput
      size="xs"
      {...rest}
      value={typed}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === 'Enter' && keep()}
    />
  );
}
