import {
  boxSteps,
  type CancelSignal,
  jointMembers,
  type PartRecording,
  type Placement,
  runChain,
  type SignalFormat,
  type Spool,
  sourceAtRate,
  summedSources,
} from '@tonos/core';
import { openAudio } from '@tonos/formats';
import { type CutRecording, cutRecording, type MarkedByHand } from './cut-recording.ts';
import type { OpenSpool } from './disk-spool.ts';
import { hearMember } from './hear-member.ts';

/** The file of a recording that is linked with others, where it lies on their time. */
export interface LinkedFile {
  path: string;
  /** How messages call it. */
  name: string;
  byHand?: Partial<MarkedByHand>;
  place: Placement;
}

/**
 * Recordings of one session as one sound: each on the time that they share, with the cuts of all made, and added up. Its moments are told in
 * the first one's time.
 * @param sampleRateHz that of the sum
 * @param listen takes it while the files are open
 */
export async function withLinked<T>(
  files: readonly LinkedFile[],
  { sampleRateHz, openSpool, signal }: { sampleRateHz: number; openSpool: OpenSpool; signal?: CancelSignal },
  listen: (sum: PartRecording) => Promise<T>,
): Promise<T> {
  const heard: Awaited<ReturnType<typeof hearMember>>[] = [];
  for (const file of files) heard.push(await hearMember(file, signal));
  const { span, cuts, marks } = jointMembers(
    files.map(({ place, byHand }, m) => ({
      place,
      ...heard[m],
      cuts: byHand?.cuts ?? [],
      marks: byHand?.marks ?? [],
    })),
  );
  const opened: Awaited<ReturnType<typeof openAudio>>[] = [];
  try {
    const members: CutRecording[] = [];
    for (const [m, { path, name, byHand, place }] of files.entries()) {
      const audio = await openAudio(path, name);
      opened.push(audio);
      const { frames, room } = heard[m];
      const inSet = { place, span, cuts: cuts[m], marks, frames, room };
      const made = await cutRecording(audio, byHand, { name, signal, inSet });
      members.push({ ...made, source: await withoutBoxes(made, { openSpool, signal }) });
    }
    const [{ map, known }] = members;
    const source = summedSources(members.map((member) => sourceAtRate(member.source, sampleRateHz)));
    return await listen({ source, map, known, boxes: [] });
  } finally {
    for (const audio of opened) await audio.close();
  }
}

/** What is turned down in boxes is turned down in the recording that has them, and in no other. */
async function withoutBoxes(
  { source, boxes, known }: CutRecording,
  surroundings: { openSpool: OpenSpool; signal?: CancelSignal },
): Promise<CutRecording['source']> {
  if (!boxes.length) return source;
  let spool: Spool | undefined;
  const openSink = async (format: SignalFormat) => {
    spool = await surroundings.openSpool(format);
    return spool;
  };
  await runChain(boxSteps(boxes), source, openSink, { ...surroundings, known });
  return spool!;
}
