import type { OutputFormat } from '@tonos/core';
import type { OpenWriter } from '../format.ts';
import { writeMp3 } from '../mp3/write-mp3.ts';
import { writeWav } from '../wav/write-wav.ts';

/** The containers that are written by now; targets with another can't be started. */
const WRITERS: Readonly<Partial<Record<OutputFormat['container'], { open: OpenWriter; ending: string }>>> = {
  wav: { open: writeWav, ending: '.wav' },
  mp3: { open: writeMp3, ending: '.mp3' },
};

export const writerOf = ({ container }: OutputFormat) => WRITERS[container];

export const isWritable = (output: OutputFormat): boolean => writerOf(output) !== undefined;
