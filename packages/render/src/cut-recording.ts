import {
  type Block,
  type CancelSignal,
  composeMaps,
  cutSource,
  type KnownOfRecording,
  mapKnown,
  type Placement,
  placedSource,
  type RoomToneChoice,
  type Source,
  type SpectralBox,
  spanToResult,
  type TimeCut,
  type TimeMap,
  type TimeSpan,
  TonosError,
} from '@tonos/core';
import { type FileMark, openAudio } from '@tonos/formats';

interface PickUpFile {
  path: string;
  name: string;
}

/** What people marked in a recording; the names of its ranges are what a step's scope may call. */
export interface MarkedByHand {
  boxes: readonly SpectralBox[];
  roomTone: RoomToneChoice;
  marks: readonly FileMark[];
  cuts?: readonly TimeCut[];
  /** Where the recordings lie that are picked up from, by their ids. */
  pickUps?: Readonly<Record<string, PickUpFile>>;
  /** Of a sound that was made of the recording before, its cuts and boxes with it: where the recording's moments lie in it. */
  frozen?: { timeMap: TimeMap };
}

/** What goes into a chain. */
export interface CutRecording {
  source: Source;
  /** Where the recording's moments lie in it; as they were, where there is none. */
  map?: TimeMap;
  boxes: SpectralBox[];
  known: KnownOfRecording;
}

/** Where a recording lies in a set, and what holds for it there. */
export interface InSet {
  place: Placement;
  /** On the time that the members share. */
  span: TimeSpan;
  /** Of all members, on that time; they take the place of its own. */
  cuts: readonly TimeCut[];
  /** The ranges of all members, on that time: what is kept to some of them is the same for all. */
  marks: readonly FileMark[];
  frames: number;
  room: readonly Block[];
}

/** A recording with its cuts made, and what was marked in it where that lies by then. @param name how messages call it */
export async function cutRecording(
  source: Source,
  byHand: Partial<MarkedByHand> = {},
  { name, signal, inSet }: { name: string; signal?: CancelSignal; inSet?: InSet },
): Promise<CutRecording> {
  if (inSet) {
    const { frames, place, span, room, cuts, marks } = inSet;
    const placed = placedSource(source, frames, place, span, room);
    const own = movedBy(placed.map, byHand);
    const made = await cutRecording(placed.source, { ...own, cuts, marks }, { name, signal });
    return { ...made, map: made.map ? composeMaps(placed.map, made.map) : placed.map };
  }
  const { boxes = [], roomTone, marks, cuts = [], pickUps = {}, frozen } = byHand;
  const known = { roomTone, marks };
  if (frozen) return { source, map: frozen.timeMap, boxes: [], known: mapKnown(known, frozen.timeMap) };
  if (!cuts.some(({ on }) => on)) return { source, boxes: [...boxes], known };
  const made = await cutSource(source, cuts, {
    name,
    known,
    openPickUp: (recordingId) => openPickUp(name, recordingId, pickUps[recordingId]),
    signal,
  });
  const moved = movedBy(made.map, byHand);
  return { ...made, boxes: [...moved.boxes], known: mapKnown(known, made.map) };
}

/** What was marked, where a map brings it. */
function movedBy(
  map: TimeMap,
  { boxes = [], roomTone, pickUps }: Partial<MarkedByHand>,
): Pick<Partial<MarkedByHand>, 'roomTone' | 'pickUps'> & { boxes: readonly SpectralBox[] } {
  const known = mapKnown({ roomTone }, map).roomTone;
  return {
    boxes: boxes.map((box) => spanToResult(map, box)).filter((box) => box.endSeconds > box.startSeconds),
    pickUps,
    ...(known && { roomTone: { use: [...known.use], never: [...known.never] } }),
  };
}

/** @param into how messages call the recording that it is laid into; @throws TonosError where it is gone */
async function openPickUp(into: string, recordingId: string, file: PickUpFile | undefined) {
  const gone = (cause?: unknown) =>
    new TonosError(
      'pick-up-gone',
      `${into}: the recording that a pick-up comes from (${file?.name ?? recordingId}) is gone or can\u2019t be read. Bring it back, choose another, or switch the pick-up off.`,
      { file: into, recordingId },
      { cause },
    );
  if (!file) throw gone();
  const source = await openAudio(file.path, file.name).catch((cause) => {
    throw gone(cause);
  });
  return { source, close: () => source.close() };
}
