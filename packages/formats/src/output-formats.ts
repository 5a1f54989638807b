import type { OutputFormat } from '@tonos/core';
import { writeFlac } from './flac/write-flac.ts';
import type { OpenWriter } from './format.ts';
import { writeMp3 } from './mp3/write-mp3.ts';
import { writeOpus } from './ogg/write-opus.ts';
import { writeWav } from './wav/write-wav.ts';

const WRITERS: Readonly<Record<OutputFormat['container'], { open: OpenWriter; ending: string }>> = {
  wav: { open: writeWav, ending: '.wav' },
  flac: { open: writeFlac, ending: '.flac' },
  mp3: { open: writeMp3, ending: '.mp3' },
  opus: { open: writeOpus, ending: '.opus' },
};

export const writerOf = ({ container }: OutputFormat) => WRITERS[container];
