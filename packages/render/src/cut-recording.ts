import {
  type CancelSignal,
  cutSource,
  type KnownOfRecording,
  mapKnown,
  type RoomToneChoice,
  type Source,
  type SpectralBox,
  spanToResult,
  type TimeCut,
  type TimeMap,
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
}

/** What goes into a chain. */
export interface CutRecording {
  source: Source;
  /** Where the recording's moments lie in it; as they were, where there is none. */
  map?: TimeMap;
  boxes: SpectralBox[];
  known: KnownOfRecording;
}

/** A recording with its cuts made, and what was marked in it where that lies by then. @param name how messages call it */
export async function cutRecording(
  source: Source,
  byHand: Partial<MarkedByHand> = {},
  { name, signal }: { name: string; signal?: CancelSignal },
): Promise<CutRecording> {
  const { boxes = [], roomTone, marks, cuts = [], pickUps = {} } = byHand;
  const known = { roomTone, marks };
  if (!cuts.some(({ on }) => on)) return { source, boxes: [...boxes], known };
  const made = await cutSource(source, cuts, {
    name,
    known,
    openPickUp: (recordingId) => openPickUp(name, recordingId, pickUps[recordingId]),
    signal,
  });
  return {
    ...made,
    boxes: boxes.map((box) => spanToResult(made.map, box)).filter((box) => box.endSeconds > box.startSeconds),
    known: mapKnown(known, made.map),
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
