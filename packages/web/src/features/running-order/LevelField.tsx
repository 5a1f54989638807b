import { NumberInput } from '@mantine/core';

interface LevelFieldProps {
  label: string;
  /** null: it stays as it is. */
  lufs: number | null;
  set(lufs: number | null): void;
}

/** A loudness that something is brought to, or none; taken when the field is left. */
export function LevelField({ label, lufs, set }: LevelFieldProps) {
  return (
    <NumberInput
      key={lufs}
      aria-label={label}
      variant="unstyled"
      size="xs"
      hideControls
      decimalScale={1}
      fixedDecimalScale
      min={-70}
      max={0}
      step={0.5}
      placeholder={'\u2013'}
      title={lufs === null ? 'as loud as it is' : undefined}
      styles={{ input: { textAlign: 'right', fontFamily: 'var(--figure)', fontSize: 14, paddingRight: 0 } }}
      style={{ width: 58, display: 'inline-block' }}
      defaultValue={lufs ?? ''}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={(event) => {
        const typed = event.currentTarget.value.replace('\u2212', '-').trim();
        const next = typed === '' ? null : Number(typed);
        if (next !== lufs && (next === null || (Number.isFinite(next) && next >= -70 && next <= 0))) set(next);
      }}
    />
  );
}
