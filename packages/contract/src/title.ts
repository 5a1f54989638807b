import * as z from 'zod';

/** A folder on the server that is watched: what is complete there comes in, and is run with the title's chain and target. */
export const inbox = z.strictObject({
  root: z.number().int().min(0).default(0),
  path: z.string().max(4096).default(''),
  run: z.boolean().default(false),
  /** Each folder in it holds one session: its recordings come in together and are linked. */
  sets: z.boolean().optional(),
});

export const newTitle = z.strictObject({
  name: z.string().trim().min(1, 'A title needs a name.').max(200),
  kind: z.enum(['podcast', 'audiobook']),
});

const text = (most: number) => z.string().trim().max(most);

/** What a title says of itself: it goes into the tags of deliveries, and into their report. */
const details = {
  authors: text(500),
  /** Narrators of a book, hosts of a show. */
  voices: text(500),
  publisher: text(200),
  year: z.number().int().min(1000).max(9999).nullable(),
  /** BCP 47: en, de-AT. */
  language: z
    .string()
    .trim()
    .regex(/^([a-z]{2,3}(-[a-z0-9]{2,8})*)?$/i, 'A language is written as in en or de-AT.'),
  series: text(200),
  /** Its number in the series. */
  number: text(20),
  description: text(4000),
  copyright: text(500),
};

export const titleDetails = z.strictObject(details);
export type TitleDetails = z.output<typeof titleDetails>;

/** Of a title of which nothing is said yet. */
export const NO_DETAILS: TitleDetails = {
  authors: '',
  voices: '',
  publisher: '',
  year: null,
  language: '',
  series: '',
  number: '',
  description: '',
  copyright: '',
};

/** What a title may change to; what is left out stays. */
export const titleChange = z.strictObject({
  name: z.string().trim().min(1).max(200).optional(),
  chainId: z.string().nullable().optional(),
  targetId: z.string().nullable().optional(),
  inbox: inbox.nullable().optional(),
  /** Of these too, what is left out stays. */
  details: titleDetails.partial().optional(),
  archived: z.boolean().optional(),
  /** Whether only those who are named, and owners, know of it. */
  closed: z.boolean().optional(),
  /** Whether runs need approved revisions, or a lead. */
  approvedOnly: z.boolean().optional(),
});

/** A picture that goes into every delivery of a title. */
export const cover = z.object({
  sha256: z.string(),
  mediaType: z.enum(['image/jpeg', 'image/png']),
  width: z.number().int(),
  height: z.number().int(),
});

export const title = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(['podcast', 'audiobook']),
  /** What its last run used, offered for the next. */
  chainId: z.string().nullable(),
  targetId: z.string().nullable(),
  inbox: inbox.nullable(),
  cover: cover.nullable(),
  details: titleDetails,
  archived: z.boolean(),
  closed: z.boolean(),
  approvedOnly: z.boolean(),
  createdAt: z.string(),
  recordingCount: z.number().int(),
  totalSeconds: z.number(),
  warningCount: z.number().int(),
});

export type NewTitle = z.output<typeof newTitle>;
export type TitleChange = z.output<typeof titleChange>;
export type Title = z.output<typeof title>;
