/** Passes on what was typed where it is a number inside its range. "9.0" arrives as text, since its zero is still being typed. */
export function takeNumber(
  typed: number | string,
  minimum: number,
  maximum: number,
  take: (value: number) => void,
): void {
  const value = typeof typed === 'number' ? typed : Number.parseFloat(typed);
  if (value >= minimum && value <= maximum) take(value);
}
