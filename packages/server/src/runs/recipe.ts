import { createHash } from 'node:crypto';
import type { FrozenSound, RecipeFile, RecipeInput } from '@tonos/contract';
import type { ChainFile, StepReport, TargetFile } from '@tonos/core';
import type { DeliveryNotes } from '@tonos/formats';
import { stepsBehind } from '../outside/basis.ts';
import { markedOf } from '../recordings/by-hand.ts';
import type { RecordingEntity } from '../recordings/recording-entity.ts';
import type { TitleEntity } from '../titles/title-entity.ts';

interface Ingredients {
  version: string;
  recording: RecordingEntity;
  pickUps: NonNullable<RecipeInput['pickUps']>;
  set?: RecipeInput['set'];
  chain: ChainFile;
  chainId: string;
  revision: number;
  target: TargetFile;
  title: Pick<TitleEntity, 'name' | 'cover' | 'details'>;
  track: number;
  trackTotal: number;
  /** When the run was started: stays the same when an item is tried again. */
  date: string;
}

/** What one item is rendered from. */
export function recipeOf(ingredients: Ingredients): RecipeInput {
  const { version, recording, pickUps, set, chain, chainId, revision, target, title, track, trackTotal, date } =
    ingredients;
  const { name, sha256: source, tags, speaker, marks } = recording;
  const frozen = recording.frozen[chainId];
  const artist = speaker || tags.artist || title.details.voices;
  const notes: DeliveryNotes = {
    software: `Tonos ${version}`,
    title: recording.givenName || (tags.title ?? name.replace(/\.[^.]*$/, '')),
    ...(artist ? { artist } : {}),
    ...detailNotes(title.details),
    album: title.name,
    track,
    trackTotal,
    date,
    ...(tags.timeReferenceSeconds === undefined ? {} : { timeReferenceSeconds: tags.timeReferenceSeconds }),
    chapters: marks
      .filter(({ chapter }) => chapter)
      .map((mark) => ({ title: mark.name, startSeconds: mark.startSeconds })),
  };
  return {
    version,
    source: { name, sha256: source },
    // what is only said of a step makes no other file
    chain: { name: chain.name, revision, steps: chain.steps.map(({ note: _, ...step }) => step) },
    adjustments: recording.adjustments[chainId] ?? [],
    marked: markedOf(recording),
    ...(Object.keys(pickUps).length ? { pickUps } : {}),
    ...(set ? { set } : {}),
    // members of a set share their time: what was made of one alone has no part in it
    ...(frozen && !set && stepsBehind(chain.steps, frozen) ? { frozen: frozenIn(frozen) } : {}),
    target,
    notes: { ...notes, ...(title.cover ? { picture: { sha256: title.cover.sha256 } } : {}) },
  };
}

const frozenIn = ({ stepId, name, sha256, timeMap }: FrozenSound): RecipeInput['frozen'] => ({
  stepId,
  name,
  sha256,
  timeMap,
});

/** Of what a title says of itself, what it says: a recipe of before it said anything stays the same. */
function detailNotes({ number, year, ...texts }: TitleEntity['details']): Partial<DeliveryNotes> {
  const said = Object.entries({ ...texts, seriesNumber: number, year }).filter(([, value]) => value);
  return Object.fromEntries(said);
}

/** What names the picture that goes into it. */
export const pictureOf = ({ notes }: RecipeInput): string | undefined =>
  (notes.picture as { sha256: string } | undefined)?.sha256;

/** What goes into a file that is made from a recipe: its notes, and the recipe's own hash. The picture lies in the store. */
export function notesOf(input: RecipeInput): DeliveryNotes {
  const { picture: _, ...notes } = input.notes;
  return { ...(notes as unknown as DeliveryNotes), recipeSha256: sha256Of(input) };
}

export const recipeFileOf = (input: RecipeInput, findings: StepReport[]): RecipeFile => ({
  format: 'tonos.recipe/1',
  sha256: sha256Of(input),
  ...input,
  findings,
});

const sha256Of = (input: RecipeInput): string =>
  createHash('sha256')
    .update(JSON.stringify(sorted(input)))
    .digest('hex');

/** Keys in order, so that one content has one hash. */
const sorted = (value: unknown): unknown => {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, inner]) => [key, sorted(inner)]),
  );
};
