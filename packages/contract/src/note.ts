import * as z from 'zod';
import { personRef } from './people.ts';

/** What a note is on: a chain or one step of it, a recording, an item of a run. */
export const noteAbout = z.strictObject({
  kind: z.enum(['chain', 'recording', 'item']),
  id: z.string(),
  /** Of a chain, the one step; null: the whole. */
  stepId: z.string().max(100).nullable().default(null),
});

const text = z.string().trim().min(1, 'A note needs a text.').max(10_000);
export const newNote = z.strictObject({ about: noteAbout, text });
export const noteChange = z.strictObject({ text, done: z.boolean() }).partial();
export const noteQuery = z.object({ kind: noteAbout.shape.kind, id: z.string() });

export const note = z.object({
  id: z.string(),
  about: noteAbout,
  text: z.string(),
  by: personRef,
  at: z.string(),
  /** Whom it names with an @. */
  mentions: z.array(personRef),
  /** Who has seen to it, and when. */
  done: z.object({ by: personRef, at: z.string() }).nullable(),
});

/** A note that names who asks, and that nobody has seen to: on a thing, or at a place in a recording. */
export const openForMe = z.object({
  kind: z.enum(['chain', 'recording', 'item', 'place']),
  /** Of the note, or of the mark that it is a part of. */
  id: z.string(),
  text: z.string(),
  byName: z.string(),
  at: z.string(),
  /** The chain, the recording, or the item that it is on, and how that is called. */
  aboutId: z.string(),
  aboutName: z.string(),
  runId: z.string().nullable(),
  titleName: z.string().nullable(),
  atSeconds: z.number().nullable(),
});

export type NoteAbout = z.output<typeof noteAbout>;
export type NewNote = z.output<typeof newNote>;
export type NoteChange = z.output<typeof noteChange>;
export type NoteQuery = z.output<typeof noteQuery>;
export type Note = z.output<typeof note>;
export type OpenForMe = z.output<typeof openForMe>;
