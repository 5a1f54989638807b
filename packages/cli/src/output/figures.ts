import { figure, LIMITABLE_MEASURES, type LimitableMeasure, type LimitResult, type Measurement } from '@tonos/core';
import { type FileError, failureText, isFailure } from '../each-file.ts';

const TITLE_WIDTH = 16;
const FIGURE_WIDTH = 9;

const row = (title: string, text: string, unit = '') =>
  `  ${title.padEnd(TITLE_WIDTH)}${text.padStart(FIGURE_WIDTH)}  ${unit}`.trimEnd();

/** A file's figures, lined up, and its warnings. */
export function measurementText(file: string, measurement: Measurement): string {
  const { container, codec, sampleRateHz, channels, bitDepth, warnings } = measurement;
  const facts = `${container} ${codec}, ${sampleRateHz} Hz, ${channels} ${channels === 1 ? 'channel' : 'channels'}${bitDepth ? `, ${bitDepth} bit` : ''}`;
  const rows = (Object.keys(LIMITABLE_MEASURES) as LimitableMeasure[]).map((measure) => {
    const { title, unit, decimals } = LIMITABLE_MEASURES[measure];
    const value = measurement[measure];
    return row(title, value === null ? '\u2013' : figure(value, decimals), unit);
  });
  return [file, `  ${facts}`, ...rows, ...warnings.map(({ message }) => `  ! ${message}`)].join('\n');
}

/** Every limit: where the figure lies, and by how much it misses. */
export const limitsText = (limits: readonly LimitResult[]): string =>
  limits
    .map(({ measure, value, result, by, required }) => {
      const { title, unit, decimals } = LIMITABLE_MEASURES[measure];
      const miss = by === null || by === 0 ? '' : ` by ${figure(by, Math.max(1, decimals))}`;
      return `${row(title, value === null ? '\u2013' : figure(value, decimals), unit).padEnd(36)} ${result}${miss}${required ? '' : ' (advisory)'}`;
    })
    .join('\n');

/** What came of a file that was written, or why nothing did. */
export const writtenText = (
  result: FileError | { file: string; output: string | null; verdict: string | null; limits: readonly LimitResult[] },
): string =>
  isFailure(result)
    ? failureText(result)
    : [
        `${result.file}${result.output === null ? '' : ` -> ${result.output}`}${result.verdict ? `: ${result.verdict}` : ''}`,
        limitsText(result.limits),
      ]
        .filter(Boolean)
        .join('\n');
