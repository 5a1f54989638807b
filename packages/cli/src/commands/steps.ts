import { catalogue } from '@tonos/core';
import { print } from '../output/print.ts';

/** What steps there are, with a JSON Schema of each kind's settings. @returns the exit status */
export function steps({ json }: { json?: boolean }): number {
  print(catalogue(), json, ({ kind, title, summary, settings }) =>
    [`${kind}: ${title}. ${summary}`, ...settingLines(settings)].join('\n'),
  );
  return 0;
}

interface SettingSchema {
  title?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  default?: unknown;
  enum?: unknown[];
}

const settingLines = (schema: Record<string, unknown>): string[] =>
  Object.entries((schema.properties ?? {}) as Record<string, SettingSchema>).map(
    ([key, { minimum, maximum, unit, enum: words, default: fallback }]) => {
      const range = words ? words.join(' | ') : minimum === undefined ? '' : `${minimum} to ${maximum}`;
      return `  ${key.padEnd(18)}${[range, unit].filter(Boolean).join(' ').padEnd(30)} default ${JSON.stringify(fallback)}`;
    },
  );
