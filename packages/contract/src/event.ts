import * as z from 'zod';
import { recording } from './recording.ts';
import { runItem, runSummary } from './run.ts';

/** Of a recording, what changed. */
const recordingPart = recording.partial().extend({ id: z.string() });

/** What `GET /api/events` sends: the `data` of every message is one of these. */
export const serverEvent = z.discriminatedUnion('type', [
  z.object({ type: z.literal('recording'), recording }),
  /** Of several at once, what changed of each. */
  z.object({ type: z.literal('recordings'), titleId: z.string(), changes: z.array(recordingPart) }),
  z.object({
    type: z.literal('recording-progress'),
    recordingId: z.string(),
    titleId: z.string(),
    /** 0 to 1 */
    share: z.number(),
    secondsLeft: z.number().nullable(),
  }),
  z.object({ type: z.literal('run'), run: runSummary }),
  z.object({ type: z.literal('item'), titleId: z.string(), item: runItem }),
  z.object({
    type: z.literal('item-progress'),
    titleId: z.string(),
    runId: z.string(),
    itemId: z.string(),
    /** 0 to 1 */
    share: z.number(),
    stage: z.string(),
    secondsLeft: z.number().nullable(),
  }),
  z.object({ type: z.literal('chain'), chainId: z.string() }),
  /** What people say to each other: on what belongs to no title, and in one. */
  z.object({ type: z.literal('note') }),
  z.object({ type: z.literal('note-in-title'), titleId: z.string() }),
  /** Who is where. */
  z.object({ type: z.literal('presence') }),
  /** Who works here, and as what; of who listens too. */
  z.object({ type: z.literal('people') }),
  z.object({ type: z.literal('target'), targetId: z.string() }),
  z.object({ type: z.literal('title'), titleId: z.string() }),
  /** The linked sets of a title. */
  z.object({ type: z.literal('sets'), titleId: z.string() }),
  z.object({ type: z.literal('order'), orderId: z.string(), titleId: z.string() }),
  z.object({ type: z.literal('preset'), presetId: z.string() }),
  z.object({ type: z.literal('module'), moduleId: z.string() }),
  /** What went out of a title, or came back. */
  z.object({ type: z.literal('outing'), titleId: z.string() }),
  z.object({ type: z.literal('index-place'), letter: z.string() }),
  /** A run that went to the trash or came back from it, or of which much changed at once: it is to be asked for again. */
  z.object({ type: z.literal('run-moved'), titleId: z.string(), runId: z.string() }),
  /** Files went to make room. */
  z.object({ type: z.literal('storage') }),
  /** What lies in the trash is another now. */
  z.object({ type: z.literal('trash') }),
]);

export type RecordingPart = z.output<typeof recordingPart>;
export type ServerEvent = z.output<typeof serverEvent>;

/** What a network says of recordings: nothing is rendered, counted or delivered by it. */
const LABELS: ReadonlySet<string> = new Set([
  'id',
  'version',
  'speaker',
  'microphone',
  'room',
] satisfies (keyof RecordingPart)[]);

/** Whether labels are all that changed; where nobody says what did, it is more. */
export const areLabels = (changes: readonly RecordingPart[]): boolean =>
  changes.length > 0 && changes.every((part) => Object.keys(part).every((key) => LABELS.has(key)));
