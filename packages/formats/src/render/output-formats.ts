import { InvalidTargetError, type OutputFormat } from '@tonos/core';
import { writeFlac } from '../flac/write-flac.ts';
import type { OpenWriter } from '../format.ts';
import { writeMp3 } from '../mp3/write-mp3.ts';
import { writeWav } from '../wav/write-wav.ts';

/** The containers that are written by now; targets with another can't be started. */
const WRITERS: Readonly<Partial<Record<OutputFormat['container'], { open: OpenWriter; ending: string }>>> = {
  wav: { open: writeWav, ending: '.wav' },
  flac: { open: writeFlac, ending: '.flac' },
  mp3: { open: writeMp3, ending: '.mp3' },
};

export const writerOf = ({ container }: OutputFormat) => WRITERS[container];

export const isWritable = (output: OutputFormat): boolean => writerOf(output) !== undefined;

/** Throws where a target asks for a container that is not written yet. */
export function checkWritable({ name, output }: { name: string; output: OutputFormat }): void {
  if (isWritable(output)) return;
  throw new InvalidTargetError(
    'output-not-written',
    `The target "${name}" asks for ${output.container}, which is not written yet. Choose a target with WAV, FLAC or MP3.`,
  );
}
