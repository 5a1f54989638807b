/** Points of a curve as CSV: a head, then a line for each with its frequency in Hz and its gain in dB. */

interface Point {
  frequencyHz: number;
  gainDb: number;
}

export const pointsToCsv = (points: readonly Point[]): string =>
  ['frequencyHz,gainDb', ...points.map(({ frequencyHz, gainDb }) => `${frequencyHz},${gainDb}`)]
    .map((line) => `${line}\r\n`)
    .join('');

const LINE = /^\s*([-+]?[\d.]+(?:e[-+]?\d+)?)\s*[,;\t]\s*([-+\u2212]?[\d.]+(?:e[-+]?\d+)?)\s*$/i;

/** Reads two figures a line, whatever stands between them; a head and empty lines are left out. Throws which line is wrong. */
export function pointsFromCsv(text: string): Point[] {
  const points: Point[] = [];
  for (const [index, line] of text.split(/\r?\n/).entries()) {
    const found = LINE.exec(line);
    if (found) points.push({ frequencyHz: Number(found[1]), gainDb: Number(found[2].replace('\u2212', '-')) });
    else if (line.trim() && points.length)
      throw new Error(`Line ${index + 1} is no frequency and gain: ${line.slice(0, 60)}`);
  }
  if (!points.length) throw new Error('There is no line with a frequency in Hz and a gain in dB.');
  return points;
}
