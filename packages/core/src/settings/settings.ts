import * as z from 'zod';

/**
 * Settings say their unit, range and default once. Form, command line, 400 reply, JSON Schema and docs read the `.meta()`
 * of these schemas.
 */
export interface NumberMeta {
  title: string;
  unit: string;
  minimum: number;
  maximum: number;
  default: number;
  /** How a slider is spread: by value or by ratio. */
  scale: 'linear' | 'logarithmic';
  /** A fine step, in the unit; ten of them are a coarse one. */
  step: number;
  description?: string;
}

/**
 * All settings of a step. They are made when they are first asked for: every page knows thirty kinds of steps, and few pages check any.
 */
export const settingsOf = <Shape extends z.core.$ZodShape>(shape: () => Shape) => z.lazy(() => z.strictObject(shape()));

interface Range {
  min: number;
  max: number;
  default: number;
  step?: number;
  description?: string;
}

export const number =
  (unit: string, scale: NumberMeta['scale'], step: number) =>
  (title: string, range: Range): z.ZodDefault<z.ZodNumber> => {
    const meta: NumberMeta = {
      title,
      unit,
      minimum: range.min,
      maximum: range.max,
      default: range.default,
      scale,
      step: range.step ?? step,
      ...(range.description ? { description: range.description } : {}),
    };
    return z
      .number()
      .min(range.min)
      .max(range.max)
      .default(range.default)
      .meta({ ...meta });
  };

/** As `number`, but it may be left empty, which `description` gives a meaning. */
export const numberOrNone =
  (unit: string, scale: NumberMeta['scale'], step: number) =>
  (title: string, { min, max, description }: { min: number; max: number; description: string }) =>
    z
      .number()
      .min(min)
      .max(max)
      .nullable()
      .default(null)
      .meta({ title, unit, minimum: min, maximum: max, default: null, scale, step, description });

export const decibels = number('dB', 'linear', 0.1);
export const decibelsFullScale = number('dBFS', 'linear', 0.1);
export const decibelsTruePeak = number('dBTP', 'linear', 0.1);
export const loudnessUnits = number('LUFS', 'linear', 0.1);
export const hertz = number('Hz', 'logarithmic', 1);
export const milliseconds = number('ms', 'logarithmic', 0.1);
export const ratio = number(': 1', 'logarithmic', 0.1);
export const percent = number('%', 'linear', 1);
export const seconds = number('s', 'logarithmic', 0.1);
export const secondsOrNone = numberOrNone('s', 'logarithmic', 0.1);
export const share = number('', 'linear', 0.01);
export const quality = number('Q', 'logarithmic', 0.01);

/** One of a few words. `labels` are what a person reads. */
export const choice = <const Words extends readonly [string, ...string[]]>(
  title: string,
  words: Words,
  options: { default: Words[number]; labels?: Partial<Record<Words[number], string>>; description?: string },
) =>
  z
    .enum(words)
    .default(options.default as never)
    .meta({
      title,
      labels: options.labels ?? {},
      ...(options.description ? { description: options.description } : {}),
    });

/** One of a few numbers, such as a slope. */
export const oneOf = <const Numbers extends readonly [number, ...number[]]>(
  title: string,
  unit: string,
  numbers: Numbers,
  fallback: Numbers[number],
) =>
  z
    .literal([...numbers])
    .default(fallback as never)
    .meta({ title, unit, minimum: Math.min(...numbers), maximum: Math.max(...numbers) });

/** One of a few words or numbers, such as "auto", 50, 60. */
export const oneOfWords = <const Values extends readonly [string | number, ...(string | number)[]]>(
  title: string,
  values: Values,
  fallback: Values[number],
  labels: Readonly<Record<string, string>>,
) =>
  z
    .literal([...values])
    .default(fallback as never)
    .meta({ title, labels });

export const onOff = (title: string, fallback: boolean) => z.boolean().default(fallback).meta({ title });
