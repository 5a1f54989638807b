import { NumberInput } from '@mantine/core';

interface TimeFieldProps {
  label: string;
  seconds: number;
  set(seconds: number): void;
  /** 0, where nothing lies before the start. */
  min?: number;
  decimals?: number;
  /** In pixels. */
  width?: number;
}

/** A place in time, to the millisecond where nothing else is said, taken when the field is left. */
export function TimeField({ label, seconds, set, min = 0, decimals = 3, width = 84 }: TimeFieldProps) {
  return (
    <NumberInput
      key={seconds}
      aria-label={label}
      variant="unstyled"
      size="xs"
      hideControls
      decimalScale={decimals}
      fixedDecimalScale
      min={min}
      step={0.01}
      styles={{
        input: { textAlign: 'right', fontFamily: 'var(--figure)', fontSize: 14, paddingRight: 0 },
      }}
      style={{ width, display: 'inline-block' }}
      defaultValue={seconds}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={(event) => {
        const typed = Number(event.currentTarget.value);
        if (Number.isFinite(typed) && Math.abs(typed - seconds) > 5e-4) set(typed);
      }}
    />
  );
}
