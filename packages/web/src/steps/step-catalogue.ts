import { type AnyStep, STEPS, stepOf } from '@tonos/core';
import * as z from 'zod';

/** A setting as its JSON Schema says it: all that a form needs. */
export interface SettingSchema {
  title?: string;
  description?: string;
  type?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  default?: unknown;
  scale?: 'linear' | 'logarithmic';
  step?: number;
  enum?: (string | number)[];
  labels?: Record<string, string>;
  item?: string;
  items?: SettingSchema & { properties?: Record<string, SettingSchema> };
  /** A list that is read from and written to CSV. */
  csv?: boolean;
  /** A list that is a stored spectrum. */
  spectrum?: boolean;
  minItems?: number;
  maxItems?: number;
}

type Settings = [key: string, schema: SettingSchema][];
const known = new WeakMap<AnyStep, Settings>();

/** The settings of a step, or of a kind at its defaults; which module one is, is no setting of a form. */
export function settingsOf(step: { kind: string; settings?: unknown }): Settings {
  const definition = stepOf(step);
  if (!definition) return [];
  const before = known.get(definition);
  if (before) return before;
  const { properties = {} } = z.toJSONSchema(definition.settings, { io: 'input' });
  const own = (Object.entries(properties) as Settings).filter(([key]) => key !== 'module');
  known.set(definition, own);
  return own;
}

export const defaultsOf = (properties: readonly [string, SettingSchema][]): Record<string, unknown> =>
  Object.fromEntries(properties.map(([key, schema]) => [key, schema.default]));

/** Whether every word of what was typed begins a word of a text. */
function isMeant(typed: string, text: string): boolean {
  const known = text.toLowerCase().split(/[\s,-]+/);
  return typed
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((word) => known.some((one) => one.startsWith(word)));
}

/** Kinds that what was typed could mean, by their titles and everyday words. */
export const findKinds = (typed: string): AnyStep[] =>
  STEPS.filter(({ title, words }) => isMeant(typed, `${title} ${words.join(' ')}`));

/** Presets by their names and what they are for. */
export const findPresets = <Named extends { name: string; tags: readonly string[] }>(
  presets: readonly Named[],
  typed: string,
): Named[] => presets.filter(({ name, tags }) => isMeant(typed, `${name} ${tags.join(' ')}`));

/** Modules of the library by their names and everyday words. */
export const findModules = <One extends { manifest: { name: string; words: readonly string[] } }>(
  modules: readonly One[],
  typed: string,
): One[] => modules.filter(({ manifest }) => isMeant(typed, `${manifest.name} module ${manifest.words.join(' ')}`));
