import type { RecordingView, SpectrogramQuery, ViewQuery } from '@tonos/contract';
import { HttpProblem } from '../http/problems.ts';
import type { JobEnd, LookJob } from '../workers/messages.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import type { RecordingService } from './recording-service.ts';

/** Pictures of recordings, made by a thread of their own: renders may keep all the others busy for hours. */
export class SightService {
  constructor(
    private readonly recordings: RecordingService,
    private readonly queue: OneAtATime,
  ) {}

  async view(id: string, query: ViewQuery, signal: AbortSignal): Promise<RecordingView> {
    const end = await this.look('view', id, query, 0, signal);
    if (end.type === 'viewed') return end.view;
    throw refusal(end);
  }

  async spectrogram(id: string, query: SpectrogramQuery, signal: AbortSignal): Promise<Uint8Array> {
    const end = await this.look('spectrogram', id, query, query.rows, signal);
    if (end.type === 'spectra') return end.values;
    throw refusal(end);
  }

  private async look(
    type: LookJob['type'],
    id: string,
    { from, to, columns }: ViewQuery,
    rows: number,
    signal: AbortSignal,
  ): Promise<JobEnd> {
    const sight = await this.recordings.sight(id);
    const job: LookJob = { type, ...sight, range: { fromSeconds: from, toSeconds: to, columns }, rows };
    return this.queue.run(job, { wanted: signal });
  }
}

const refusal = (end: JobEnd) =>
  end.type === 'failed'
    ? new HttpProblem(500, end.error.code, end.error.message)
    : new HttpProblem(409, 'cancelled', 'Nobody waited for this picture any more.');
