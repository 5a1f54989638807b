import { boxSteps } from '../boxes/box-step.ts';
import type { SpectralBox } from '../boxes/spectral-box.ts';
import { chainMap, type RunSurroundings, runChain, type Spool, type StepReport } from '../chain/run.ts';
import { sourceAtRate } from '../dsp/resampled-source.ts';
import { LoudnessMeter } from '../measure/loudness.ts';
import { changeLayout } from '../signal/change-layout.ts';
import { countedSource } from '../signal/counted-source.ts';
import { SignalError } from '../signal/errors.ts';
import { type Block, framesOf, type SignalFormat, type Source, sliceBlock } from '../signal/signal.ts';
import { knownFrom, mapKnown } from '../steps/known.ts';
import type { KnownOfRecording } from '../steps/step.ts';
import { composeMaps, type TimeMap, toResult } from '../time/time-map.ts';
import { ofPart, stepsOf } from './order-faults.ts';
import type { OrderPart } from './order-file.ts';

/** A part's sound for the mixer: its stretch at the programme's rate, through its own chain, and by how much it is off its level. */

/** A recording as it comes to a part: with its cuts made. */
export interface PartRecording {
  source: Source;
  /** From the recording's own time to the source's; as they were, where there is none. */
  map?: TimeMap;
  /** In the source's time. */
  known: KnownOfRecording;
  boxes: readonly SpectralBox[];
}

export interface PreparedPart {
  sound: Spool;
  frames: number;
  /** By how much it is turned up to come to its level. */
  levelDb: number;
  /** In its own time. */
  known: KnownOfRecording;
  /** From the recording's time to its own. */
  map: TimeMap;
  reports: StepReport[];
}

/** @param format the programme's; @param part with its chain as a file; @param listens hears it before it is brought to its level; @throws SignalError where it has no level to be brought to another */
export async function preparePart(
  recording: PartRecording,
  part: OrderPart,
  format: SignalFormat,
  surroundings: RunSurroundings,
  listens: (block: Block) => void = () => {},
): Promise<PreparedPart> {
  const { startSeconds, endSeconds } = 'recording' in part.source ? part.source : { startSeconds: 0, endSeconds: null };
  const made = (seconds: number) => (recording.map ? toResult(recording.map, seconds) : seconds);
  const [from, to] = [made(startSeconds), endSeconds === null ? Number.POSITIVE_INFINITY : made(endSeconds)];
  const known = from > 0 ? knownFrom(recording.known, from) : recording.known;
  const boxes = recording.boxes
    .filter((box) => box.endSeconds > from)
    .map((box) => ({ ...box, startSeconds: Math.max(0, box.startSeconds - from), endSeconds: box.endSeconds - from }));
  const heard = countedSource(sourceAtRate(stretch(recording.source, from, to), format.sampleRateHz));
  let spool: Spool | undefined;
  let meter: LoudnessMeter | undefined;
  let frames = 0;
  const openSink = async (own: SignalFormat) => {
    const opened = await surroundings.openSpool(own);
    spool = opened;
    // one channel is placed between two with the power that it has
    const laidOut: SignalFormat = own.channels === 1 ? own : { ...own, channels: format.channels, speakers: undefined };
    const hears = part.level ? new LoudnessMeter(laidOut) : undefined;
    meter = hears;
    return {
      write: (block: Block) => {
        frames += framesOf(block);
        listens(block);
        hears?.hear(changeLayout(block, own, laidOut.channels));
        return opened.write(block);
      },
    };
  };
  const steps = [...boxSteps(boxes), ...stepsOf(part.chain)];
  const reports = await runChain(steps, heard.source, openSink, { ...surroundings, known });
  const heardSeconds = heard.seconds();
  const began: TimeMap = [
    [from, 0],
    [from + heardSeconds, heardSeconds],
  ];
  const moved = chainMap(reports, heardSeconds);
  const through = composeMaps(began, moved);
  const map = recording.map ? composeMaps(recording.map, through) : through;
  const levelDb = part.level ? levelGainDb(part, meter!.conclude().integratedLufs, part.level) : 0;
  return { sound: spool!, frames, levelDb, known: mapKnown(known, moved), map, reports };
}

function levelGainDb(part: OrderPart, lufs: number, { integratedLufs }: { integratedLufs: number }): number {
  if (Number.isFinite(lufs)) return integratedLufs - lufs;
  throw new SignalError(
    'too-quiet',
    `${ofPart(part)}, level: it is silent or shorter than 0.4 s, so there is no loudness to bring to ${integratedLufs} LUFS. Choose another stretch, or take its level away.`,
  );
}

/** A stretch of a source, to the frame. */
function stretch(source: Source, fromSeconds: number, toSeconds: number): Source {
  if (fromSeconds === 0 && toSeconds === Number.POSITIVE_INFINITY) return source;
  const { format } = source;
  const [first, last] = [fromSeconds, toSeconds].map((seconds) => Math.round(seconds * format.sampleRateHz));
  return {
    format,
    async *blocks(options) {
      let at = 0;
      for await (const block of source.blocks(options)) {
        const [from, to] = [Math.max(0, first - at), Math.min(framesOf(block), last - at)];
        at += framesOf(block);
        if (to > from) yield sliceBlock(block, from, to);
        if (at >= last) return;
      }
    },
  };
}
