import { type Complaint, complaintText, type Measurement } from '@tonos/core';

/** Complaints in words, for tables and the bench. */

/** What a word in a table stands for, in a sentence. */
export function complaintSentence(complaint: Complaint): string {
  const { severity, places, morePlaces = 0 } = complaint;
  const count = places.length + morePlaces;
  const where = count > 1 ? `, at ${count} places` : '';
  return `${complaintText(complaint)}: ${severity}${where}.`;
}

/** A complaint that says the same as a warning has the same code, but for this one. */
const complaintOf = (code: string): string => (code === 'floor-changes' ? 'noise-change' : code);

/** Warnings that no complaint says already. */
export const otherWarnings = ({ warnings, complaints }: Measurement): Measurement['warnings'] =>
  warnings.filter(({ code }) => !complaints.some((one) => one.code === complaintOf(code)));
