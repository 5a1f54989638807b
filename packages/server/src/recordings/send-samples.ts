import type { SamplesQuery } from '@tonos/contract';
import type { Response } from 'express';
import { goneSignal } from '../http/send-lines.ts';
import type { Sight } from './sight.ts';
import type { SightService } from './sight-service.ts';

/** Sends samples of a stretch. Files by content never change, so a page may keep what it has heard. */
export async function sendSamples(
  response: Response,
  sights: SightService,
  sight: Sight,
  query: SamplesQuery,
): Promise<void> {
  const samples = await sights.samples(sight, query, goneSignal(response));
  response.type('application/octet-stream').set('Cache-Control', 'private, max-age=3600').send(samples);
}
