import type { RecordingView, SamplesQuery, SpectrogramQuery, ViewQuery } from '@tonos/contract';
import type { Block } from '@tonos/core';
import { openAudio } from '@tonos/formats';
import { HttpProblem } from '../http/problems.ts';
import type { JobEnd, LookJob } from '../workers/messages.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import type { RecordingService } from './recording-service.ts';
import type { Sight } from './sight.ts';

/** Pictures of recordings, and sound that has to be decoded to be heard, made by a thread of their own: renders may keep all the others busy for hours. */
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

  /** Samples of a stretch as float32, little endian, one channel after the other; fewer at the end of the file. */
  async samples({ path, name }: Sight, { from, frames }: SamplesQuery, signal: AbortSignal): Promise<Buffer> {
    const file = await openAudio(path, name);
    try {
      if (!file.readFrames)
        throw new HttpProblem(
          409,
          'no-copy',
          `The copy of ${name} that is played from is gone. Render or add it again.`,
        );
      // what has to be decoded would hold up everybody here
      const isDecoded = file.facts.bitDepth === null;
      return asBytes(await (isDecoded ? this.decode(path, name, from, frames, signal) : file.readFrames(from, frames)));
    } finally {
      await file.close();
    }
  }

  private async decode(path: string, name: string, from: number, frames: number, signal: AbortSignal): Promise<Block> {
    const end = await this.queue.run({ type: 'stretch', path, name, from, frames }, { wanted: signal });
    if (end.type === 'stretch-read') return end.block;
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
    : new HttpProblem(409, 'cancelled', 'Nobody waited for this any more.');

const asBytes = (block: Block): Buffer =>
  Buffer.concat(block.map(({ buffer, byteOffset, byteLength }) => Buffer.from(buffer, byteOffset, byteLength)));
