/** What a cell of a table may hold. */
export type Cell = string | number | null | undefined;

/**
 * RFC 4180. A cell that a spreadsheet would take for a formula gets an apostrophe before it; figures have a point and an ASCII
 * minus, so that they are read as numbers.
 */
const cell = (value: Cell): string => {
  if (value === null || value === undefined) return '';
  if (typeof value === 'number') return String(value);
  const safe = /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
};

/** A table as text, its heads first. */
export const csvText = (table: readonly (readonly Cell[])[]): string =>
  table.map((line) => `${line.map(cell).join(',')}\r\n`).join('');
