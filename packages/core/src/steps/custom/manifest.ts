import * as z from 'zod';
import { choice, type NumberMeta, number, onOff } from '../../settings/settings.ts';
import { ModuleError } from './module-error.ts';

/** What a module says of itself: JSON in its custom section of this name. */
export const MANIFEST_SECTION = 'tonos.manifest';
export const MODULE_FORMAT = 'tonos.module/1';

const MOST_LATENCY_SECONDS = 5;
const MOST_TAIL_SECONDS = 30;

/** Settings are called as in our own steps: `gainDb`. `module` is where a step keeps which module it is. */
const settingName = z
  .string()
  .regex(/^[a-z][A-Za-z0-9]{0,63}$/, 'names begin with a small letter and have letters and digits only')
  .refine((name) => name !== 'module', 'the name "module" is taken');

const said = { title: z.string().trim().min(1).max(60), description: z.string().trim().max(300).optional() };

const numberSetting = z
  .strictObject({
    type: z.enum(['number', 'integer']),
    ...said,
    unit: z.string().max(12).default(''),
    minimum: z.number(),
    maximum: z.number(),
    default: z.number(),
    scale: z.enum(['linear', 'logarithmic']).default('linear'),
    step: z.number().positive().optional(),
  })
  .refine(({ minimum, maximum }) => minimum < maximum, 'minimum must be below maximum')
  .refine(({ minimum, maximum, ...one }) => one.default >= minimum && one.default <= maximum, 'default is out of range')
  .refine(({ scale, minimum }) => scale === 'linear' || minimum > 0, 'a logarithmic scale begins above 0');

const onOffSetting = z.strictObject({ type: z.literal('boolean'), ...said, default: z.boolean() });

const choiceSetting = z
  .strictObject({
    type: z.literal('string'),
    ...said,
    enum: z.array(z.string().min(1).max(40)).min(1).max(40),
    labels: z.record(z.string(), z.string().max(60)).default({}),
    default: z.string(),
  })
  .refine((one) => one.enum.includes(one.default), 'default is none of the words');

const moduleSetting = z.union([numberSetting, onOffSetting, choiceSetting]);
export type ModuleSetting = z.output<typeof moduleSetting>;

const span = z.strictObject({
  /** The same at every rate. */
  frames: z.number().int().min(0).default(0),
  milliseconds: z.number().min(0).default(0),
});

export const moduleManifest = z.strictObject({
  format: z.literal(MODULE_FORMAT),
  name: z.string().trim().min(1).max(60),
  version: z
    .string()
    .trim()
    .regex(/^\d+(\.\d+){0,3}$/, 'versions are numbers with dots, such as 1.2.0'),
  summary: z.string().trim().min(1).max(300),
  words: z.array(z.string().trim().min(1).max(40)).max(30).default([]),
  group: z.enum(['repair', 'tone', 'dynamics', 'level']).default('tone'),
  channels: z
    .strictObject({ minimum: z.number().int().min(1).max(8), maximum: z.number().int().min(1).max(8) })
    .refine(({ minimum, maximum }) => minimum <= maximum, 'minimum must not be above maximum')
    .default({ minimum: 1, maximum: 8 }),
  latency: span
    .refine(({ frames, milliseconds }) => frames / 8000 + milliseconds / 1000 <= MOST_LATENCY_SECONDS, 'at most 5 s')
    .default({ frames: 0, milliseconds: 0 }),
  tail: span
    .refine(({ frames, milliseconds }) => frames / 8000 + milliseconds / 1000 <= MOST_TAIL_SECONDS, 'at most 30 s')
    .default({ frames: 0, milliseconds: 0 }),
  /** What a study finds, in the order of its numbers. Without any there is no study. */
  findings: z
    .array(z.strictObject({ name: settingName, title: z.string().trim().min(1).max(60), unit: z.string().max(12) }))
    .max(64)
    .default([]),
  settings: z
    .strictObject({ type: z.literal('object').default('object'), properties: z.record(settingName, moduleSetting) })
    .default({ type: 'object', properties: {} }),
});

export type ModuleManifest = z.output<typeof moduleManifest>;

/** @param bytes of the custom section, UTF-8. Throws a ModuleError that says which field is wrong. */
export function readManifest(bytes: Uint8Array): ModuleManifest {
  let json: unknown;
  try {
    json = JSON.parse(decodeUtf8(bytes));
  } catch {
    throw new ModuleError('bad-manifest', `The section "${MANIFEST_SECTION}" of the module is not JSON.`);
  }
  const { format } = (json ?? {}) as { format?: unknown };
  if (typeof format === 'string' && format !== MODULE_FORMAT && format.startsWith('tonos.module/'))
    throw new ModuleError(
      'newer-module',
      `The module is of the interface ${format}, this version knows ${MODULE_FORMAT}. Take a newer version of Tonos, or an older one of the module.`,
    );
  const parsed = moduleManifest.safeParse(json);
  if (parsed.success) return parsed.data;
  const faults = parsed.error.issues.map(({ path, message }) => `${path.join('.') || 'manifest'}: ${message}`);
  throw new ModuleError('bad-manifest', `The module\u2019s manifest is wrong: ${faults.slice(0, 5).join('; ')}.`);
}

/** So many frames at a rate. */
export const spanFrames = ({ frames, milliseconds }: z.output<typeof span>, sampleRateHz: number): number =>
  frames + Math.round((milliseconds * sampleRateHz) / 1000);

/** The schema of one setting, as our own steps make theirs. */
export function settingSchema(setting: ModuleSetting): z.ZodType {
  const { title, description } = setting;
  if (setting.type === 'boolean') return onOff(title, setting.default);
  if (setting.type === 'string')
    return choice(title, setting.enum as [string, ...string[]], {
      default: setting.default,
      labels: setting.labels,
      description,
    });
  const { unit, scale, minimum: min, maximum: max } = setting;
  const step: NumberMeta['step'] = setting.step ?? (setting.type === 'integer' ? 1 : 0.1);
  const made = number(unit, scale, step)(title, { min, max, default: setting.default, description });
  return setting.type === 'integer'
    ? made.refine(Number.isInteger, 'a whole number is wanted').meta(made.meta()!)
    : made;
}

interface Utf8Decoder {
  decode(bytes: Uint8Array): string;
}
const decodeUtf8 = (bytes: Uint8Array): string =>
  new (
    globalThis as unknown as { TextDecoder: new (label: string, how: { fatal: boolean }) => Utf8Decoder }
  ).TextDecoder('utf-8', { fatal: true }).decode(bytes);
