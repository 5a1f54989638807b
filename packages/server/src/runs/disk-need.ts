import { type ChainStep, type Measurement, stepOfKind, type TargetFile } from '@tonos/core';
import { HttpProblem } from '../http/problems.ts';

const FLOAT_BYTES = 4;
/** Deliveries that are played from a copy, since they can't be read at random. */
const COPIED = ['flac', 'opus'];
/** Spools that one item has at once: between two passes, after the chain, laid out for the target. */
const SPOOLS = 3;
/** What is left for the database and others. */
const RESERVE_BYTES = 256 * 1024 * 1024;

type Sized = Pick<Measurement, 'durationSeconds' | 'sampleRateHz' | 'channels'>;

const rateOf = ({ output }: TargetFile, { sampleRateHz }: Sized) => output.sampleRateHz ?? sampleRateHz;

function outputBytes(target: TargetFile, sound: Sized): number {
  const { bitrateKbps, bitDepth = 24 } = target.output;
  const channels = target.output.channels ?? sound.channels;
  const floats = sound.durationSeconds * rateOf(target, sound) * channels * FLOAT_BYTES;
  const copy = COPIED.includes(target.output.container) ? floats : 0;
  if (bitrateKbps) return copy + (sound.durationSeconds * bitrateKbps * 1000) / 8;
  return copy + (floats / FLOAT_BYTES) * (bitDepth / 8);
}

const spoolBytes = (target: TargetFile, sound: Sized): number =>
  sound.durationSeconds * Math.max(sound.sampleRateHz, rateOf(target, sound)) * sound.channels * FLOAT_BYTES * SPOOLS;

/** As long as steps can make it at most, at any place of the chain. */
function longest(steps: readonly ChainStep[], { durationSeconds }: Sized): number {
  let [length, most] = [durationSeconds, durationSeconds];
  for (const { kind, on, settings } of steps) {
    const definition = stepOfKind(kind);
    if (!on || !definition?.traits?.longest) continue;
    length = definition.traits.longest(definition.settings.parse(settings), length);
    most = Math.max(most, length);
  }
  return most;
}

/** Bytes that a run takes at most: all that it delivers, and the spools of the largest items that are worked on at once. */
export function diskNeed(
  target: TargetFile,
  steps: readonly ChainStep[],
  recordings: readonly Sized[],
  threads: number,
): number {
  const sounds = recordings.map((sound) => ({ ...sound, durationSeconds: longest(steps, sound) }));
  const outputs = sounds.reduce((sum, sound) => sum + outputBytes(target, sound), 0);
  const spools = sounds
    .map((sound) => spoolBytes(target, sound))
    .sort((a, b) => b - a)
    .slice(0, threads)
    .reduce((sum, bytes) => sum + bytes, 0);
  return Math.ceil(outputs + spools);
}

const gigabytes = (bytes: number) => `${(bytes / 1e9).toFixed(1)} GB`;

/** Throws where a run could not finish for want of room. */
export function checkRoom(neededBytes: number, free: number): void {
  if (neededBytes + RESERVE_BYTES <= free) return;
  throw new HttpProblem(
    507,
    'disk-full',
    `The run needs up to ${gigabytes(neededBytes)} on the disk of the data folder, where ${gigabytes(free)} are free. Make room, or run fewer recordings at once.`,
    { neededBytes, freeBytes: free },
  );
}
