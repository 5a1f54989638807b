import { figure, LIMITABLE_MEASURES, type LimitableMeasure } from '@tonos/core';
import { csvText } from './csv.ts';
import { complaintsOf, type DeliveryReport, notesTexts, stateOf } from './report.ts';

const HEADS = [
  'Recording',
  'Verdict',
  'Off target',
  'Reason',
  'Delivered as',
  'SHA-256 delivered',
  'SHA-256 source',
  'Complaints before',
  'Complaints after',
  'Open notes',
];
const MEASURES = Object.keys(LIMITABLE_MEASURES) as LimitableMeasure[];

const rounded = (value: number | null | undefined, decimals: number): number | null =>
  value === null || value === undefined ? null : Number(figure(value, decimals).replace('\u2212', '-'));

/** A report as a table: a line for each item, its figures before and after. */
export function reportCsv(report: DeliveryReport): string {
  const heads = MEASURES.flatMap((measure) => {
    const { title, unit } = LIMITABLE_MEASURES[measure];
    const name = unit ? `${title} (${unit})` : title;
    return [`${name} before`, `${name} after`];
  });
  const lines = report.items.map((item) => [
    item.name,
    stateOf(item),
    item.limits
      .filter(({ result }) => result !== 'within')
      .map(
        ({ measure, result, by }) =>
          `${LIMITABLE_MEASURES[measure].title} ${result}${by === null ? '' : ` by ${rounded(by, 2)}`}`,
      )
      .join('; '),
    item.accepted?.reason ?? item.error?.message ?? '',
    item.output,
    item.outputSha256,
    item.sourceSha256,
    complaintsOf(item.before).join('; '),
    complaintsOf(item.after).join('; '),
    notesTexts(item).join('; '),
    ...MEASURES.flatMap((measure) => {
      const { decimals } = LIMITABLE_MEASURES[measure];
      return [rounded(item.before?.[measure], decimals + 1), rounded(item.after?.[measure], decimals + 1)];
    }),
  ]);
  const table = [[...HEADS, ...heads], ...lines];
  return csvText(table);
}
