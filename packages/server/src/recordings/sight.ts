import type { LongTermSpectrum } from '@tonos/core';
import { SurveyReader } from '@tonos/render';
import type { BlobStore } from '../storage/blob-store.ts';

/** What looking at a stored file, and listening to it, read. */
export interface Sight {
  surveyPath: string;
  /** The file, or its copy where the file itself can't be read at random. */
  path: string;
  /** How messages call it. */
  name: string;
}

export async function sightOf(store: BlobStore, sha256: string, name: string): Promise<Sight> {
  const copied = await store.hasDerived(sha256, '.wav');
  return {
    surveyPath: store.derivedPath(sha256, '.survey'),
    path: copied ? store.derivedPath(sha256, '.wav') : store.pathOf(sha256),
    name,
  };
}

/** The long-term spectrum; null where the survey is of a version that had none. */
export async function spectrumOf({ surveyPath }: Sight): Promise<LongTermSpectrum | null> {
  const survey = await SurveyReader.open(surveyPath);
  try {
    return (survey.header.spectrum as LongTermSpectrum | undefined) ?? null;
  } finally {
    await survey.close();
  }
}
