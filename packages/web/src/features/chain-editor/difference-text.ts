import { type StepDifference, stepOfKind } from '@tonos/core';
import { settingsOf } from '../../steps/step-catalogue.ts';

const OWN: Readonly<Record<string, string>> = { mix: 'mix', scope: 'marks', note: 'reason' };

const shown = (value: unknown, unit = ''): string => {
  if (value === undefined) return 'default';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (typeof value === 'number') return `${String(value).replace('-', '\u2212')}${unit ? `\u2009${unit}` : ''}`;
  return Array.isArray(value) ? `${value.length} entries` : typeof value === 'object' ? 'others' : String(value);
};

/** A difference between two states of a chain, as a person reads it. */
export function differenceText({ kind, from, to, moved, changes }: StepDifference): { title: string; text: string } {
  const title = stepOfKind(kind)?.title ?? kind;
  if (from === null) return { title, text: `added as step ${to}` };
  if (to === null) return { title, text: `removed; it was step ${from}` };
  const schemas = new Map(settingsOf(kind));
  const parts = changes.map(({ key, from: before, to: after }) => {
    if (key === 'on') return after ? 'switched on' : 'switched off';
    const schema = schemas.get(key);
    const name = OWN[key] ?? schema?.title?.toLowerCase() ?? key;
    return `${name} ${shown(before, schema?.unit)} \u2192 ${shown(after, schema?.unit)}`;
  });
  return { title, text: [...(moved ? [`from step ${from} to ${to}`] : []), ...parts].join('; ') };
}
