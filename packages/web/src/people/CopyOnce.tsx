import { Button, CopyButton, Group, TextInput } from '@mantine/core';

interface CopyOnceProps {
  label: string;
  /** What to do with it, and that it is not shown again. */
  description: string;
  value: string;
}

/** A link or a token that is told once: seen whole, and copied by one press. */
export function CopyOnce({ label, description, value }: CopyOnceProps) {
  return (
    <Group align="flex-end" wrap="nowrap">
      <TextInput
        label={label}
        description={description}
        value={value}
        readOnly
        style={{ flex: 1 }}
        styles={{ input: { fontFamily: 'var(--figure)' } }}
        onFocus={(event) => event.currentTarget.select()}
      />
      <CopyButton value={value}>
        {({ copied, copy }) => (
          <Button variant="default" onClick={copy}>
            {copied ? 'Copied' : 'Copy'}
          </Button>
        )}
      </CopyButton>
    </Group>
  );
}
