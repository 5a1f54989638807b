import {
  type Block,
  buildProgramme,
  type CancelSignal,
  composeMaps,
  type GroupListeners,
  hearRooms,
  type KnownPart,
  type OrderFile,
  type OrderPart,
  type Placement,
  type PreparedPart,
  type Programme,
  type ProgrammePart,
  partMap,
  preparePart,
  type ResolvedOrder,
  resolveOrder,
  type SignalFormat,
  type StepReport,
  soundOf,
  stepsOf,
  type TargetFile,
  toResult,
} from '@tonos/core';
import { type DeliveryChapter, openAudio } from '@tonos/formats';
import { cutRecording, type MarkedByHand } from './cut-recording.ts';
import { type OpenSpool, withSpools } from './disk-spool.ts';
import { type LinkedFile, withLinked } from './linked-part.ts';
import { type RenderJob, type RenderResult, renderSource } from './render-file.ts';

/** Puts a programme together from files, by a running order, and renders it like a recording. */

/** The file of a part; of one that is several linked recordings, the first one's. */
export interface PartFile {
  path: string;
  /** How messages call it. */
  name: string;
  byHand?: Partial<MarkedByHand>;
  /** The chapters that begin in it, in its own time. */
  chapters?: readonly DeliveryChapter[];
  /** Where it lies on the time that it shares with the others, and those. */
  linked?: { place: Placement; others: readonly LinkedFile[] };
}

export interface AssembleJob extends Omit<RenderJob, 'sourcePath' | 'chain' | 'given' | 'byHand' | 'inSet'> {
  /** With its chains as files and its places filled. */
  order: OrderFile;
  /** By part. */
  files: Readonly<Record<string, PartFile>>;
  /** The part whose moments the result's map tells of; those of the programme where it names none. */
  of?: string;
}

/** A part as it lies in the delivery. */
export interface AssembledPart {
  id: string;
  startSeconds: number;
  endSeconds: number;
}

export interface AssembleResult extends RenderResult {
  parts: AssembledPart[];
  chapters: DeliveryChapter[];
  /** What the chains of parts and groups did, by their ids. */
  partReports: Record<string, StepReport[]>;
  groupReports: Record<string, StepReport[]>;
}

/** Of the whole work, by when all parts are made. */
const PARTS_SHARE = 0.35;
const GROUPS_SHARE = 0.5;

/** @throws InvalidOrderError where the parts can't lie as the order says */
export const assemble = (job: AssembleJob): Promise<AssembleResult> =>
  withSpools(job.spoolFolder, (openSpool) => assembleWith(job, openSpool));

async function assembleWith(job: AssembleJob, openSpool: OpenSpool): Promise<AssembleResult> {
  const { order, files, notes, progress } = job;
  const { prepared, resolved, programme } = await programmeOf(job, openSpool);
  const { sampleRateHz } = resolved;
  const chapters = chaptersOf(resolved, prepared, files);
  const result = await renderSource(
    { ...programme.source, frames: resolved.frames },
    {
      ...job,
      chain: stepsOf(order.chain),
      ...(notes && { notes: { ...notes, chapters } }),
      progress: (share, stage) => progress?.(GROUPS_SHARE + (1 - GROUPS_SHARE) * share, stage),
    },
  );
  const { timeMap } = result;
  const told = resolved.parts.find(({ part }) => part.id === job.of);
  return {
    ...result,
    ...(told && {
      timeMap: composeMaps(composeMaps(prepared.get(told.part.id)!.map, partMap(told, sampleRateHz)), timeMap),
    }),
    parts: resolved.parts.map(({ part, start, end }) => ({
      id: part.id,
      startSeconds: toResult(timeMap, start / sampleRateHz),
      endSeconds: toResult(timeMap, end / sampleRateHz, 'before'),
    })),
    chapters: chapters.map((one) => ({ ...one, startSeconds: Math.max(0, toResult(timeMap, one.startSeconds)) })),
    partReports: Object.fromEntries([...prepared].map(([id, { reports }]) => [id, reports])),
    groupReports: programme.reports,
  };
}

/** What a programme is put together from. */
export type ProgrammeJob = Pick<AssembleJob, 'order' | 'files' | 'target' | 'signal' | 'progress'>;

/** Those who hear what comes to the sum. */
interface Listeners extends GroupListeners {
  /** The sound of a part before it is brought to its level: of those that sound alike, one. */
  part?(id: string, block: Block, sampleRateHz: number): void;
}

export interface ReadyProgramme {
  prepared: ReadonlyMap<string, PreparedPart>;
  resolved: ResolvedOrder;
  programme: Programme;
}

/** A programme up to the sum of its groups, ready to be read. */
export async function programmeOf(
  job: ProgrammeJob,
  openSpool: OpenSpool,
  listeners: Listeners = {},
): Promise<ReadyProgramme> {
  const { order, files, signal } = job;
  const sampleRateHz = await programmeRate(job.target, files);
  const format = { sampleRateHz, channels: order.channels };
  const prepared = await prepareParts(job, format, openSpool, listeners);
  const resolved = resolveOrder(order, knownParts(prepared, sampleRateHz), sampleRateHz);
  const sounds = await soundsOf(resolved, prepared, signal);
  job.progress?.(PARTS_SHARE, 'groups');
  const programme = await buildProgramme(order, resolved, sounds, { openSpool, signal }, listeners);
  return { prepared, resolved, programme };
}

/** That of the target, or else the highest of the parts. */
async function programmeRate(target: TargetFile | undefined, files: AssembleJob['files']): Promise<number> {
  const { container, sampleRateHz } = target?.output ?? {};
  if (container === 'opus') return 48000;
  if (sampleRateHz) return sampleRateHz;
  let most = 0;
  for (const { path, name } of Object.values(files).flatMap((file) => [file, ...(file.linked?.others ?? [])])) {
    const audio = await openAudio(path, name);
    most = Math.max(most, audio.format.sampleRateHz);
    await audio.close();
  }
  return most;
}

/** The sound of every part. Parts that are made alike from one file share it. */
async function prepareParts(
  { order, files, signal, progress }: ProgrammeJob,
  format: SignalFormat,
  openSpool: OpenSpool,
  listeners: Listeners,
): Promise<Map<string, PreparedPart>> {
  const made = new Map<string, PreparedPart>();
  const prepared = new Map<string, PreparedPart>();
  for (const [i, part] of order.parts.entries()) {
    progress?.((PARTS_SHARE * i) / order.parts.length, `part ${i + 1} of ${order.parts.length}`);
    const file = files[part.id];
    const alike = madeAlike(part, file);
    const listens = (block: Block) => listeners.part?.(part.id, block, format.sampleRateHz);
    const one = made.get(alike) ?? (await preparedFrom(file, part, format, { openSpool, signal }, listens));
    made.set(alike, one);
    prepared.set(part.id, one);
  }
  return prepared;
}

function madeAlike({ source, level, chain }: OrderPart, { path, byHand, linked }: PartFile): string {
  const stretch = 'recording' in source ? [source.startSeconds, source.endSeconds] : [];
  return JSON.stringify([path, stretch, level, chain, byHand, linked]);
}

async function preparedFrom(
  { path, name, byHand, linked }: PartFile,
  part: OrderPart,
  format: SignalFormat,
  surroundings: { openSpool: OpenSpool; signal?: CancelSignal },
  listens: (block: Block) => void,
): Promise<PreparedPart> {
  if (linked)
    return withLinked(
      [{ path, name, byHand, place: linked.place }, ...linked.others],
      { ...surroundings, sampleRateHz: format.sampleRateHz },
      (sum) => preparePart(sum, part, format, surroundings, listens),
    );
  const audio = await openAudio(path, name);
  try {
    const recording = await cutRecording(audio, byHand, { name, signal: surroundings.signal });
    return await preparePart(recording, part, format, surroundings, listens);
  } finally {
    await audio.close();
  }
}

const knownParts = (prepared: ReadonlyMap<string, PreparedPart>, sampleRateHz: number): Map<string, KnownPart> =>
  new Map(
    [...prepared].map(([id, { sound, frames, known }]) => [
      id,
      {
        frames,
        channels: sound.format.channels,
        marks: (known.marks ?? []).map(({ name, startSeconds }) => ({
          name,
          frame: Math.round(startSeconds * sampleRateHz),
        })),
      },
    ]),
  );

/** The parts for the mixer; where one is opened, its room is heard first. */
async function soundsOf(
  { parts, sampleRateHz }: ResolvedOrder,
  prepared: ReadonlyMap<string, PreparedPart>,
  signal?: CancelSignal,
): Promise<Map<string, ProgrammePart>> {
  const sounds = new Map<string, ProgrammePart>();
  for (const { part, openings } of parts) {
    const own = prepared.get(part.id)!;
    const moments = openings.map(({ at }) => at / sampleRateHz);
    const { rooms } = moments.length ? await hearRooms(own.sound, own.known.roomTone, moments, signal) : { rooms: [] };
    sounds.set(part.id, { sound: soundOf(own.sound, rooms), levelDb: own.levelDb });
  }
  return sounds;
}

/** In order: those that begin with a part, and those that begin inside one. */
function chaptersOf(
  { parts, sampleRateHz }: ResolvedOrder,
  prepared: ReadonlyMap<string, PreparedPart>,
  files: AssembleJob['files'],
): DeliveryChapter[] {
  return parts
    .flatMap((placed) => {
      const { part, start, end } = placed;
      const into = partMap(placed, sampleRateHz);
      const { map } = prepared.get(part.id)!;
      const inside = (files[part.id].chapters ?? [])
        .map(({ title, startSeconds }) => ({ title, startSeconds: toResult(into, toResult(map, startSeconds)) }))
        .filter(({ startSeconds: at }) => at >= start / sampleRateHz && at < end / sampleRateHz);
      return part.chapter ? [{ title: part.chapter, startSeconds: start / sampleRateHz }, ...inside] : inside;
    })
    .sort((a, b) => a.startSeconds - b.startSeconds);
}
