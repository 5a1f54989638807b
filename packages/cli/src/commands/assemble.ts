import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { InvalidOrderError, type Measurement, type OrderFile, type OrderPart, partName, placesOf } from '@tonos/core';
import { type FileNotes, readNotes, writerOf } from '@tonos/formats';
import { type AssembleResult, measureFile, type PartFile } from '@tonos/render';
import { beside } from '../beside.ts';
import { eachFile } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { freePath } from '../free-path.ts';
import { makeFolders } from '../make-folders.ts';
import { ChainTasks } from '../modules/in-thread.ts';
import { loadOrder, loadTarget } from '../named-files.ts';
import { writtenText } from '../output/figures.ts';
import { print } from '../output/print.ts';
import { stopSignal } from '../stop-signal.ts';
import { UsageError } from '../usage-error.ts';
import { VERSION } from '../version.ts';

export interface AssembleOptions {
  order: string;
  target?: string;
  /** `PLACE=FILE`. */
  fill?: string[];
  /** `PLACE=FILE FILE...`. */
  each?: string[];
  /** Where modules are looked for. */
  modules?: string[];
  out: string;
  json?: boolean;
}

type Assembled = Omit<AssembleResult, 'overview' | 'copied' | 'rounds' | 'partReports' | 'groupReports'> & {
  output: string;
  /** Of what fills the place that differs; null for a programme by itself. */
  before: Measurement | null;
  groups: AssembleResult['groupReports'];
  seconds: number;
};

/** Puts one programme together by a running order, or one for each file of a place. @returns the exit status */
export async function assemble(options: AssembleOptions): Promise<number> {
  const { order, found } = await loadOrder(options.order, options.modules);
  const tasks = new ChainTasks(found);
  const target = options.target === undefined ? undefined : await loadTarget(options.target);
  const each = options.each?.length ? readEach(options.each) : undefined;
  const fills = new Map((options.fill ?? []).map(readFill));
  checkPlaces(order, [...fills.keys()], each?.place);
  const episodes = each?.files ?? [options.order];
  const filesOf = (episode: string) =>
    partFiles(order, options.order, new Map(each ? [...fills, [each.place, episode]] : fills));
  const notesOf = await notesOfAll(
    episodes.flatMap((episode) => Object.values(filesOf(episode)).map(({ path }) => path)),
  );
  checkForAll(order, episodes.map(filesOf), notesOf);
  const ending = target ? writerOf(target.output).ending : '.wav';
  const spoolFolder = await makeFolders(options.out);
  const signal = stopSignal();
  const taken = new Set<string>();
  const wrong: InvalidOrderError[] = [];
  try {
    const results = await eachFile(episodes, async (episode): Promise<Assembled> => {
      signal.throwIfAborted();
      const started = performance.now();
      const base = basename(episode, extname(episode));
      const before = each ? (await measureFile(episode, { name: episode, signal })).measurement : null;
      const files = withNotes(filesOf(episode), notesOf);
      const output = freePath(options.out, base, ending, taken);
      const {
        groupReports,
        partReports: _,
        overview: __,
        copied: ___,
        rounds: ____,
        ...made
      } = await tasks
        .run('assemble', {
          order,
          files,
          name: episode,
          target,
          outputPath: output,
          spoolFolder,
          notes: { software: `Tonos ${VERSION}`, title: each ? base : order.name },
          signal,
        })
        .catch((error) => {
          if (error instanceof InvalidOrderError) wrong.push(error);
          throw error;
        });
      return { output, before, ...made, groups: groupReports, seconds: (performance.now() - started) / 1000 };
    });
    // what is wrong for all is wrong with the order
    if (wrong.length === episodes.length) throw new UsageError(wrong[0].message);
    print(results, options.json, writtenText);
    return exitStatus(results);
  } finally {
    tasks.close();
    await rm(spoolFolder, { recursive: true, force: true });
  }
}

/** `PLACE=FILE` */
function readFill(written: string): [place: string, file: string] {
  const at = written.indexOf('=');
  if (at < 1 || at === written.length - 1)
    throw new UsageError(`"${written}" does not fill a place. Give the place and its file: --fill spot=spot.wav.`);
  return [written.slice(0, at).trim(), written.slice(at + 1)];
}

function readEach([first, ...rest]: readonly string[]): { place: string; files: string[] } {
  const [place, file] = readFill(first);
  return { place, files: [file, ...rest] };
}

function checkPlaces(order: OrderFile, filled: readonly string[], each: string | undefined): void {
  const places = placesOf(order);
  const given = [...filled, ...(each ? [each] : [])];
  const has = places.length ? `It has ${places.join(', ')}.` : 'It has no open places.';
  const faults = [
    ...given
      .filter((place) => !places.includes(place))
      .map((place) => `There is no place "${place}" in the order. ${has}`),
    ...filled.filter((place) => place === each).map((place) => `The place "${place}" is filled twice.`),
    ...order.parts.flatMap((part) =>
      'place' in part.source && !given.includes(part.source.place)
        ? [
            `Part "${partName(part)}", source.place: nothing fills the place "${part.source.place}". Give --fill ${part.source.place}=FILE.`,
          ]
        : [],
    ),
  ];
  if (faults.length) throw new UsageError(faults.join(' '));
}

/** The file of each part of one episode. */
const partFiles = (order: OrderFile, orderPath: string, fills: ReadonlyMap<string, string>): Record<string, PartFile> =>
  Object.fromEntries(
    order.parts.map(({ id, source }) => {
      const path = 'place' in source ? fills.get(source.place)! : beside(orderPath, source.recording);
      return [id, { path, name: 'place' in source ? path : source.recording }];
    }),
  );

async function notesOfAll(paths: readonly string[]): Promise<ReadonlyMap<string, FileNotes>> {
  const notes = new Map<string, FileNotes>();
  for (const path of new Set(paths)) if (existsSync(path)) notes.set(path, await readNotes(path));
  return notes;
}

/** A file or a mark that no episode has is wrong with the order: nothing is begun. */
function checkForAll(
  order: OrderFile,
  episodes: readonly Record<string, PartFile>[],
  notes: ReadonlyMap<string, FileNotes>,
): void {
  const forAll = (lacks: (files: Record<string, PartFile>) => boolean) => episodes.every(lacks);
  const faults = order.parts.flatMap((part: OrderPart): string[] => {
    const named = `Part "${partName(part)}"`;
    if (forAll((files) => !existsSync(files[part.id].path)))
      return [`${named}, source: there is no file ${episodes.map((files) => files[part.id].name).join(', ')}.`];
    const { begins } = part;
    if (!('into' in begins)) return [];
    const marksOf = (files: Record<string, PartFile>) => notes.get(files[begins.into].path)?.marks ?? [];
    if (!forAll((files) => !marksOf(files).some(({ name }) => name === begins.mark))) return [];
    const hosts = episodes.map((files) => files[begins.into].name).join(', ');
    return [`${named}, begins.mark: there is no mark "${begins.mark}" in ${hosts}.`];
  });
  if (faults.length) throw new UsageError([...new Set(faults)].join(' '));
}

const withNotes = (files: Record<string, PartFile>, notes: ReadonlyMap<string, FileNotes>): Record<string, PartFile> =>
  Object.fromEntries(
    Object.entries(files).map(([id, file]) => [
      id,
      { ...file, byHand: { boxes: [], marks: notes.get(file.path)?.marks ?? [] } },
    ]),
  );
