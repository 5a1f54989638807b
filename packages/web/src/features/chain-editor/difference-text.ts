import { CUSTOM, moduleOf, type StepDifference } from '@tonos/core';
import { nameOfStep } from '../../steps/describe-step.ts';
import { settingsOf } from '../../steps/step-catalogue.ts';

const OWN: Readonly<Record<string, string>> = { mix: 'mix', scope: 'marks', note: 'reason' };

const shown = (value: unknown, unit = ''): string => {
  if (value === undefined) return 'default';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (typeof value === 'number') return `${String(value).replace('-', '\u2212')}${unit ? `\u2009${unit}` : ''}`;
  return Array.isArray(value) ? `${value.length} entries` : typeof value === 'object' ? 'others' : String(value);
};

/** Which module a step is, where that was changed. */
const moduleText = (value: unknown): string => {
  const named = moduleOf({ kind: CUSTOM, settings: { module: value } });
  return named ? `${named.name} ${named.version}`.trimEnd() : 'none';
};

/** A difference between two states of a chain, as a person reads it. */
export function differenceText({ from, to, moved, changes, ...step }: StepDifference): { title: string; text: string } {
  const title = nameOfStep(step);
  if (from === null) return { title, text: `added as step ${to}` };
  if (to === null) return { title, text: `removed; it was step ${from}` };
  const schemas = new Map(settingsOf(step));
  const parts = changes.map(({ key, from: before, to: after }) => {
    if (key === 'on') return after ? 'switched on' : 'switched off';
    if (key === 'module') return `module ${moduleText(before)} \u2192 ${moduleText(after)}`;
    const schema = schemas.get(key);
    const name = OWN[key] ?? schema?.title?.toLowerCase() ?? key;
    return `${name} ${shown(before, schema?.unit)} \u2192 ${shown(after, schema?.unit)}`;
  });
  return { title, text: [...(moved ? [`from step ${from} to ${to}`] : []), ...parts].join('; ') };
}
