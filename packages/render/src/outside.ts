import { rm } from 'node:fs/promises';
import {
  boxSteps,
  type CancelSignal,
  type ConfiguredStep,
  chainMap,
  composeMaps,
  countedSource,
  framesOf,
  identityMap,
  type OutputFormat,
  Resampler,
  resampledSource,
  runChain,
  type SignalFormat,
  type Sink,
  type Source,
  silenceBadSamples,
  type TimeMap,
  TonosError,
} from '@tonos/core';
import { type AudioWriter, ByteWriter, openAudio, writerOf } from '@tonos/formats';
import { cutRecording, type MarkedByHand } from './cut-recording.ts';
import { withSpools } from './disk-spool.ts';

/** What other programs read and write without loss. */
const EXCHANGED: OutputFormat = { container: 'wav', sampleRateHz: null, channels: null, bitDepth: 32 };

/** How sound lies that goes out, or came back. */
export interface Exchanged extends SignalFormat {
  frames: number;
}

interface WriteOutJob {
  path: string;
  /** How messages call it. */
  name: string;
  /** Those after which it is wanted; with none it is the recording as it came, nothing marked in it made. */
  chain: readonly ConfiguredStep[];
  byHand: MarkedByHand;
  outputPath: string;
  spoolFolder: string;
  signal?: CancelSignal;
  progress?: (share: number, stage: string) => void;
}

/** Writes the sound as it is after some steps of a chain, in 32-bit float. @returns how it lies, and where the recording's moments are in it */
export async function writeOut(job: WriteOutJob): Promise<Exchanged & { timeMap: TimeMap }> {
  const { path, name, chain, byHand, outputPath, spoolFolder, signal } = job;
  const audio = await openAudio(path, name);
  try {
    return await withSpools(spoolFolder, async (openSpool) => {
      const made = chain.length
        ? await cutRecording(audio, byHand, { name, signal })
        : { source: audio, boxes: [], known: {} };
      const counted = countedSource(made.source);
      const progress = (done: number, _: number, passes: number) =>
        job.progress?.(Math.min(1, done / passes / (audio.frames || done)), 'writing out');
      const written = await writing(outputPath, (openSink) =>
        runChain([...boxSteps(made.boxes), ...chain], counted.source, openSink, {
          openSpool,
          known: made.known,
          signal,
          progress,
        }),
      );
      const map = chainMap(written.result, counted.seconds());
      return { ...written.lies, timeMap: 'map' in made && made.map ? composeMaps(made.map, map) : map };
    });
  } finally {
    await audio.close();
  }
}

/**
 * Looks whether what came back can be laid in, all of it, and brings it to a rate where it has another.
 * @param rateHz left out: whichever it has
 * @returns how it lies; whether it was written anew to the path given
 * @throws TonosError for what is no sound, and for digital silence
 */
export async function takeBack(job: {
  path: string;
  name: string;
  rateHz?: number;
  outputPath: string;
  signal?: CancelSignal;
}): Promise<Exchanged & { isRewritten: boolean; cameAtHz: number }> {
  const { path, name, rateHz, outputPath, signal } = job;
  const audio = await openAudio(path, name);
  try {
    const { format } = audio;
    let heard = 0;
    const listened: Source = {
      format,
      async *blocks(options) {
        for await (const block of audio.blocks(options)) {
          silenceBadSamples(block);
          heard ||= Number(block.some((channel) => channel.some((x) => x !== 0)));
          yield block;
        }
      },
    };
    const isOther = rateHz !== undefined && rateHz !== format.sampleRateHz;
    let lies: Exchanged;
    if (isOther) {
      const wanted = { ...format, sampleRateHz: rateHz };
      const start = () => new Resampler(format.sampleRateHz, rateHz, format.channels);
      const source = resampledSource(listened, wanted, start);
      lies = (await writing(outputPath, (openSink) => runChain([], source, openSink, { openSpool: noSpool, signal })))
        .lies;
    } else {
      lies = { ...format, frames: 0 };
      for await (const block of listened.blocks({ signal })) lies.frames += framesOf(block);
    }
    if (lies.frames && heard) return { ...lies, isRewritten: isOther, cameAtHz: format.sampleRateHz };
    await rm(outputPath, { force: true });
    const what = lies.frames ? 'is digital silence' : 'has no sound in it';
    throw new TonosError('silence', `${name} ${what}: it was not laid in. Write it again.`);
  } finally {
    await audio.close();
  }
}

const noSpool = () => Promise.reject(new Error('nothing lies between passes'));

/** Writes what is made to a file, and counts it. */
async function writing<Made>(
  path: string,
  make: (openSink: (format: SignalFormat) => Promise<Sink>) => Promise<Made>,
): Promise<{ result: Made; lies: Exchanged }> {
  const bytes = await ByteWriter.create(path);
  try {
    let lies: Exchanged | undefined;
    let writer: AudioWriter | undefined;
    const result = await make(async (format) => {
      lies = { ...format, frames: 0 };
      writer = await writerOf(EXCHANGED).open(bytes, { format, bitDepth: EXCHANGED.bitDepth });
      return {
        write: (block) => {
          lies!.frames += framesOf(block);
          return writer!.write(block);
        },
      };
    });
    await writer!.finish();
    await bytes.close();
    return { result, lies: lies! };
  } catch (error) {
    await bytes.abandon();
    await rm(path, { force: true });
    throw error;
  }
}

/**
 * Where a recording's moments lie in what came back: as they did in what went out, as far as it reaches. What it is longer or shorter by lies at
 * its end.
 */
export function mapOfReturn(wentOut: TimeMap, outSeconds: number, backSeconds: number): TimeMap {
  if (Math.abs(outSeconds - backSeconds) < 1e-9) return wentOut;
  const both = Math.min(outSeconds, backSeconds);
  const own: TimeMap = [...identityMap(both), [outSeconds, backSeconds]];
  return composeMaps(wentOut, own);
}
