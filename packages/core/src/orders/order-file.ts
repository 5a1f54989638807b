import * as z from 'zod';
import { chainFile } from '../chain/chain-file.ts';
import { FADE_SHAPES } from '../dsp/fades.ts';

/**
 * A running order, `tonos.order/1`: a programme as a table. Each row says what sounds and how it begins with respect to another row; no
 * row says when. Where a part of a pattern is left open, it names a place that each episode fills.
 */

const id = z.string().trim().min(1).max(64);
const name = z.string().trim().max(200).default('');
const offset = z.number().min(-1e6).max(1e6).default(0);
const time = z.number().min(0).max(1e6);
const decibelsOfGain = z.number().min(-60).max(24).default(0);
const fade = z.number().min(0).max(600).default(0);

/** A chain by its name, or as a file. */
const chain = z
  .union([z.string().trim().min(1).max(200), chainFile], 'Give the name of a chain, a chain file, or null.')
  .nullable()
  .default(null);

const source = z.union(
  [
    z.strictObject({
      /** Its id; in the command a path. */
      recording: z.string().min(1).max(4096),
      startSeconds: time.default(0),
      endSeconds: time.nullable().default(null),
    }),
    z.strictObject({ place: id }),
  ],
  'Give a recording, with startSeconds and endSeconds where only a stretch of it is wanted, or a place.',
);

const begins = z.union(
  [
    /** Behind another part's end, or, null, the begin of the programme. */
    z.strictObject({ after: id.nullable(), gapSeconds: offset }),
    z.strictObject({ with: id, offsetSeconds: offset }),
    /** The part is opened at the mark, and goes on behind this one. */
    z.strictObject({ into: id, mark: z.string().trim().min(1).max(500) }),
  ],
  'Give after and gapSeconds, with and offsetSeconds, or into and mark.',
);

const until = { offsetSeconds: offset, loop: z.boolean().default(false) };
const lasts = z
  .union(
    [z.strictObject({ untilEndOf: id, ...until }), z.strictObject({ untilBeginOf: id, ...until })],
    'Give untilEndOf or untilBeginOf with a part, or null.',
  )
  .nullable()
  .default(null);

export const orderPart = z.strictObject({
  id,
  name,
  group: id,
  source,
  begins: begins.default({ after: null, gapSeconds: 0 }),
  /** As long as it is, where it is null. */
  lasts,
  fadeInSeconds: fade,
  fadeOutSeconds: fade,
  shape: z.enum(FADE_SHAPES).default('s-curve'),
  /** The loudness that it is brought to by gain alone, before its group's chain. */
  level: z
    .strictObject({ integratedLufs: z.number().min(-70).max(0) })
    .nullable()
    .default(null),
  gainDb: decibelsOfGain,
  /** Of a part of one channel in a programme of two. */
  pan: z.number().min(-1).max(1).default(0),
  chain,
  /** The chapter that begins with it. */
  chapter: z.string().trim().min(1).max(500).nullable().default(null),
});

export const orderGroup = z.strictObject({ id, name, chain, gainDb: decibelsOfGain });

/** One group goes down while any of others speaks. */
export const givingWay = z.strictObject({
  group: id,
  of: z.array(id).min(1).max(50),
  byDb: z.number().min(0).max(60).default(12),
  leadSeconds: z.number().min(0).max(30).default(0.3),
  holdSeconds: z.number().min(0).max(60).default(0.8),
  releaseSeconds: z.number().min(0).max(60).default(1.5),
});

export const MOST_PARTS = 500;

export const orderFile = z.strictObject({
  format: z.literal('tonos.order/1'),
  name: z.string().trim().min(1).max(200),
  channels: z.union([z.literal(1), z.literal(2)], 'A programme has 1 or 2 channels.').default(2),
  groups: z.array(orderGroup).max(50),
  parts: z.array(orderPart).max(MOST_PARTS),
  under: z.array(givingWay).max(50).default([]),
  /** Of the whole. */
  chain,
});

export type OrderFile = z.output<typeof orderFile>;
export type OrderPart = z.output<typeof orderPart>;
export type OrderGroup = z.output<typeof orderGroup>;
export type GivingWay = z.output<typeof givingWay>;
/** A chain of an order as it stands there. */
export type NamedChain = OrderFile['chain'];

/** The places that are left open, in the order of the rows. */
export const placesOf = ({ parts }: Pick<OrderFile, 'parts'>): string[] => [
  ...new Set(parts.flatMap(({ source }) => ('place' in source ? [source.place] : []))),
];

/** The chains that it calls by name. */
export const chainNamesOf = (order: OrderFile): string[] =>
  [order, ...order.groups, ...order.parts].flatMap(({ chain: one }) => (typeof one === 'string' ? [one] : []));

/** A part as sentences call it. */
export const partName = ({ id, name }: Pick<OrderPart, 'id' | 'name'>): string =>
  name && name !== id ? `${id} (${name})` : id;
