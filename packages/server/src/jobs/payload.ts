import type { JobPayload, RecipeInput } from '@tonos/contract';
import { adjustChain, modulesIn } from '@tonos/core';
import { beginOf } from '../outside/basis.ts';
import { byHandOf } from '../recordings/by-hand.ts';
import { bodyOf } from '../runs/order-ingredients.ts';
import { partFiles } from '../runs/order-parts.ts';
import { notesOf, pictureOf } from '../runs/recipe.ts';
import type { AssembleJob, Job, RenderJob } from '../workers/messages.ts';

/** What a job is, wherever it is done: files are named by their hashes and never by paths. */
export type Payload = JobPayload;
export type MeasurePayload = Extract<Payload, { kind: 'measure' }>;
export type RenderPayload = Extract<Payload, { kind: 'render' }>;

/** Where files lie while a job is done. */
export interface Workplace {
  pathOf(sha256: string): string;
  /** For a file in the making. */
  temporaryPath(): string;
  /** A folder of its own for spools. */
  spoolFolder(): Promise<string>;
  discard(path: string): Promise<void>;
}

/** What a job makes of one recording, as paths at its workplace; not all of them come to be. */
export interface Products {
  output: string;
  survey: string;
  copy: string;
}

/** A job with a place to be done at. */
export interface PlacedJob {
  job: Job;
  /** By member. */
  products: Products[];
  /** Removes whatever it left there. */
  clear(): Promise<void>;
}

/** Puts a job in its place: from here on there are paths. */
export async function placeJob(payload: Payload, at: Workplace): Promise<PlacedJob> {
  const products = membersOf(payload).map(() => ({
    output: at.temporaryPath(),
    survey: at.temporaryPath(),
    copy: at.temporaryPath(),
  }));
  const spools = payload.kind === 'render' ? await spoolFolders(products.length, at) : [];
  const clear = async () => {
    for (const path of [...products.flatMap((one) => Object.values(one)), ...spools]) await at.discard(path);
  };
  return { job: jobOf(payload, at, products, spools), products, clear };
}

async function spoolFolders(count: number, at: Workplace): Promise<string[]> {
  const made: string[] = [];
  try {
    while (made.length < count) made.push(await at.spoolFolder());
    return made;
  } catch (error) {
    for (const folder of made) await at.discard(folder);
    throw error;
  }
}

/** The files that a job reads, by their hashes. */
export function filesOf(payload: Payload): string[] {
  const asked = new Set<string>();
  const pathOf = (sha256: string) => {
    asked.add(sha256);
    return sha256;
  };
  const nowhere = { output: '', survey: '', copy: '' };
  const members = membersOf(payload);
  jobOf(
    payload,
    { pathOf },
    members.map(() => nowhere),
    members.map(() => ''),
  );
  // the pool finds modules by itself: where they lie, nobody else need know
  for (const { sha256 } of modulesIn(payload)) asked.add(sha256);
  return [...asked];
}

const membersOf = (payload: Payload): readonly unknown[] => (payload.kind === 'measure' ? [payload] : payload.members);

function jobOf(
  payload: Payload,
  at: Pick<Workplace, 'pathOf'>,
  products: readonly Products[],
  spools: readonly string[],
): Job {
  if (payload.kind === 'measure') {
    const [{ survey: surveyPath, copy: copyPath }] = products;
    return { type: 'measure', path: at.pathOf(payload.sha256), name: payload.name, surveyPath, copyPath };
  }
  const { members } = payload;
  const jobs = members.map((member, i) => renderOf(member, at, products[i], spools[i]));
  const [{ recipe }] = members;
  if (recipe.order) return assembleOf(jobs[0], recipe.order, at);
  if (jobs.length === 1 && !recipe.set) return { type: 'render', ...jobs[0] };
  return {
    type: 'render-set',
    name: jobs.map(({ name }) => name).join(', '),
    members: jobs.map((job, i) => ({ ...job, earlier: undefined, place: members[i].recipe.set!.place })),
  };
}

function renderOf(
  { name, recipe, earlier }: RenderPayload['members'][number],
  at: Pick<Workplace, 'pathOf'>,
  { output, survey, copy }: Products,
  spoolFolder: string,
): Omit<RenderJob, 'type'> {
  const picture = pictureOf(recipe);
  const adjusted = adjustChain(recipe.chain.steps, recipe.adjustments).steps;
  const { sha256, steps, frozen } = beginOf(recipe.source.sha256, adjusted, recipe.frozen);
  return {
    path: at.pathOf(sha256),
    name,
    steps,
    // what was found in another sound holds for this one no more
    earlier: frozen ? undefined : earlier,
    target: recipe.target,
    notes: notesOf(recipe),
    ...(picture ? { picturePath: at.pathOf(picture) } : {}),
    byHand: {
      ...byHandOf(recipe.marked, recipe.pickUps ?? {}, at),
      ...(frozen && { frozen: { timeMap: frozen.timeMap } }),
    },
    outputPath: output,
    spoolFolder,
    pictures: { surveyPath: survey, copyPath: copy },
  };
}

function assembleOf(
  { path: _, steps: __, earlier: ___, byHand: ____, ...job }: Omit<RenderJob, 'type'>,
  { file, parts }: NonNullable<RecipeInput['order']>,
  at: Pick<Workplace, 'pathOf'>,
): AssembleJob {
  return { ...job, type: 'assemble', order: file, files: partFiles(parts, at), of: bodyOf(file).id };
}
