import * as z from 'zod';

/** For what it was made: a microphone, a room, a speaker. */
const tags = z.array(z.string().trim().min(1).max(60)).max(30);

const presetContent = z.strictObject({
  kind: z.string().min(1).max(64),
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  tags: tags.default([]),
  settings: z.record(z.string(), z.unknown()),
});

/** `tonos.preset/1`: stored settings of one kind of step. */
export const presetFile = presetContent.extend({ format: z.literal('tonos.preset/1').default('tonos.preset/1') });

export const preset = presetContent.extend({
  id: z.string(),
  /** Those that ship are read-only. */
  shipped: z.boolean(),
});

/** What is left out stays: here tags have no default. */
export const presetChange = presetContent.omit({ kind: true }).extend({ tags }).partial();

export type PresetFile = z.output<typeof presetFile>;
export type Preset = z.output<typeof preset>;
export type PresetChange = z.output<typeof presetChange>;
