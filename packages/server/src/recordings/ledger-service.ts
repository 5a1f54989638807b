import type { LedgerLine, LedgerQuestion } from '@tonos/contract';
import { configureChain } from '@tonos/core';
import type { BlobStore } from '../storage/blob-store.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { byHandOf, markedOf } from './by-hand.ts';
import type { RecordingService } from './recording-service.ts';

/** What a chain does to the levels of whole recordings, step by step, told while it is found out. */
export class LedgerService {
  constructor(
    private readonly recordings: RecordingService,
    private readonly store: BlobStore,
    private readonly queue: OneAtATime,
  ) {}

  /** @param tell is called with one line after the other, until it ends */
  async measure(
    id: string,
    { steps }: LedgerQuestion,
    signal: AbortSignal,
    tell: (line: LedgerLine) => void,
  ): Promise<void> {
    configureChain(steps); // names an unknown kind, and what is out of range
    const recording = await this.recordings.readable(id, 'measured');
    const spoolFolder = await this.store.spoolFolder();
    try {
      const end = await this.queue.run(
        {
          type: 'ledger',
          path: this.store.pathOf(recording.sha256),
          name: recording.name,
          steps,
          byHand: byHandOf(markedOf(recording), await this.recordings.pickUpsOf(recording.cuts), this.store),
          frames: recording.measurement.durationSeconds * recording.measurement.sampleRateHz,
          spoolFolder,
        },
        {
          wanted: signal,
          stops: true,
          progress: (share, _, ledger) => tell({ type: 'progress', share, ledger: ledger ?? null }),
        },
      );
      if (end.type === 'accounted') tell({ type: 'done', ledger: end.ledger, reports: end.reports });
      else if (end.type === 'failed') tell({ type: 'failed', message: end.error.message });
    } finally {
      await this.store.discard(spoolFolder);
    }
  }
}
