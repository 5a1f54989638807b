import * as z from 'zod';
import { LIMITABLE_MEASURES, type LimitableMeasure } from '../measure/measurement.ts';
import { NAME_WORDS, unknownWords } from './naming.ts';

const measures = Object.keys(LIMITABLE_MEASURES) as [LimitableMeasure, ...LimitableMeasure[]];

export const limit = z
  .strictObject({
    measure: z.enum(measures),
    min: z.number().nullable().default(null),
    max: z.number().nullable().default(null),
    /** What the finish aims for, inside the window. */
    aim: z.number().optional(),
    required: z.boolean().default(true),
  })
  .refine(({ min, max }) => min !== null || max !== null, { message: 'A limit needs a min, a max or both.' })
  .refine(({ min, max }) => min === null || max === null || min <= max, { message: 'The min lies above the max.' })
  .refine(({ min, max, aim }) => aim === undefined || ((min === null || aim >= min) && (max === null || aim <= max)), {
    message: 'The aim lies outside its own window.',
  });

export const outputFormat = z.strictObject({
  container: z.enum(['wav', 'mp3', 'flac', 'opus']),
  /** null: as the recording. */
  sampleRateHz: z.number().int().min(8000).max(192000).nullable().default(null),
  channels: z
    .union([z.literal(1), z.literal(2)])
    .nullable()
    .default(null),
  /** 32 is float. */
  bitDepth: z.union([z.literal(16), z.literal(24), z.literal(32)]).optional(),
  bitrateKbps: z.number().int().min(8).max(510).optional(),
});

export const targetFile = z.object({
  format: z.literal('tonos.target/1').default('tonos.target/1'),
  name: z.string().trim().min(1).max(200),
  notes: z.string().max(10_000).default(''),
  limits: z.array(limit).max(30),
  output: outputFormat,
  /** The delivered file's base name, from words in braces; the source's own where it is left out. */
  naming: z
    .string()
    .max(200)
    .refine((template) => unknownWords(template).length === 0, {
      message: `Words in braces are ${NAME_WORDS.join(', ')}.`,
    })
    .optional(),
});

export type Limit = z.output<typeof limit>;
export type OutputFormat = z.output<typeof outputFormat>;
export type TargetFile = z.output<typeof targetFile>;

/** Whether a container's coder changes the samples. */
export const isLossy = ({ container }: Pick<OutputFormat, 'container'>): boolean =>
  container === 'mp3' || container === 'opus';
