import type { RecordingGaps } from '@tonos/contract';
import { LRUCache } from 'lru-cache';
import { HttpProblem } from '../http/problems.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import type { RecordingService } from './recording-service.ts';

const MOST_KNOWN = 50;

/** Where nobody speaks in a recording; heard when it is first asked for. */
export class GapsService {
  /** By the file's hash. */
  private readonly known = new LRUCache<string, RecordingGaps>({ max: MOST_KNOWN });

  constructor(
    private readonly recordings: RecordingService,
    private readonly store: BlobStore,
    private readonly queue: OneAtATime,
  ) {}

  async of(id: string, wanted: AbortSignal): Promise<RecordingGaps> {
    const { sha256, name } = await this.recordings.readable(id, 'gone through');
    const known = this.known.get(sha256);
    if (known) return known;
    const end = await this.queue.run({ type: 'gaps', path: this.store.pathOf(sha256), name }, { wanted, stops: true });
    if (end.type === 'failed') throw new HttpProblem(422, end.error.code, end.error.message);
    if (end.type !== 'gaps-found') throw new HttpProblem(503, 'stopped', `${name} was not gone through: ask again.`);
    this.known.set(sha256, end.gaps);
    return end.gaps;
  }
}
