type Levels = readonly (number | null)[];

export interface SpectrumRow {
  hz: number;
  /** Both ends of what was taken away here, lower first. */
  taken?: [number, number];
  [line: string]: unknown;
}

/** A row a band: its frequency, the level of each line in it, and what lies between two lines. */
export function spectrumRows(
  centresHz: readonly number[],
  lines: readonly { name: string; values: Levels }[],
  taken?: { from: Levels; to: Levels },
): SpectrumRow[] {
  return centresHz.map((hz, i) => {
    const row: SpectrumRow = { hz };
    for (const { name, values } of lines) row[name] = values[i];
    const [from, to] = [taken?.from[i], taken?.to[i]];
    if (typeof from === 'number' && typeof to === 'number') row.taken = [Math.min(from, to), Math.max(from, to)];
    return row;
  });
}

const SPAN_DB = 96;
const STEP_DB = 24;

/** Levels to rule a spectrum at, lowest first: 96 dB under the first 12 dB above everything. */
export function levelTicks(levels: Levels): number[] {
  const highest = Math.max(-200, ...levels.filter((db) => db !== null));
  const top = Math.ceil((highest + 3) / 12) * 12;
  return Array.from({ length: SPAN_DB / STEP_DB + 1 }, (_, i) => top - SPAN_DB + i * STEP_DB);
}
