import { figure } from '@tonos/core';

/** A figure in a ledger; what does not exist is a dash, never a made-up number. */
export function LevelCell({ value, decimals = 1 }: { value: number | null | undefined; decimals?: number }) {
  return <td className="number">{value === null || value === undefined ? '\u2013' : figure(value, decimals)}</td>;
}
