import { rm } from 'node:fs/promises';
import type { CancelSignal, Measurement } from '@tonos/core';
import { ByteWriter, type FileNotes, openAudio, readNotes, writeWav } from '@tonos/formats';
import { measureAudio } from '../measure-file.ts';
import { writeSurvey } from './survey-file.ts';

export interface SurveyJob {
  path: string;
  name: string;
  /** Where the survey is written; must not exist. */
  surveyPath: string;
  /** Where a copy that can be read at random is written if the file itself can't; must not exist. */
  copyPath: string;
  /** Whether it is looked at so often that what would be decoded each time is copied too. */
  isWorkedOn?: boolean;
  signal?: CancelSignal;
  progress?: (share: number) => void;
}

/** Measures a file and gathers all that looking at it needs, in one reading. */
export async function surveyAudio(
  job: SurveyJob,
): Promise<{ measurement: Measurement; overview: [number, number][]; notes: FileNotes; copied: boolean }> {
  const file = await openAudio(job.path, job.name);
  // samples that come out of a decoder have no depth
  const copied = !file.readFrames || (job.isWorkedOn === true && file.facts.bitDepth === null);
  const bytes = copied ? await ByteWriter.create(job.copyPath) : undefined;
  try {
    const writer = bytes && (await writeWav(bytes, { format: file.format, bitDepth: 32 }));
    const { survey, ...measured } = await measureAudio(file, {
      signal: job.signal,
      progress: job.progress,
      survey: true,
      alongside: (block) => writer?.write(block),
    });
    await writer?.finish();
    await bytes?.close();
    await writeSurvey(job.surveyPath, survey!);
    return { ...measured, notes: await readNotes(job.path), copied };
  } catch (error) {
    await bytes?.abandon().catch(() => {}); // may be closed by now
    for (const path of [job.copyPath, job.surveyPath]) await rm(path, { force: true });
    throw error;
  } finally {
    await file.close();
  }
}
