import type { SamplesQuery } from '@tonos/contract';
import type { Response } from 'express';
import { type Sight, samplesOf } from './sight.ts';

/** Sends samples of a stretch. Files by content never change, so a page may keep what it has heard. */
export async function sendSamples(response: Response, sight: Sight, { from, frames }: SamplesQuery): Promise<void> {
  const samples = await samplesOf(sight, from, frames);
  response.type('application/octet-stream').set('Cache-Control', 'private, max-age=3600').send(samples);
}
