import type { Findings, LedgerFigures, MemorySignal, TimeMap } from '@tonos/core';

/** What is known of a stretch after some steps. The figures are light and stay; the samples are given up for newer ones. */
export interface Checkpoint {
  figures: LedgerFigures;
  lengthSeconds?: number;
  /** Where the last of them brought the moments of what came to it, if anywhere. */
  timeMap?: TimeMap | undefined;
  findings: Findings;
  signal: MemorySignal | undefined;
}

const bytesOf = ({ signal }: Checkpoint): number => (signal ? 4 * signal.frames * signal.format.channels : 0);

/** Results by what they hang on, within a budget of memory: the least recently used samples go first. */
export class Checkpoints {
  private readonly kept = new Map<string, Checkpoint>();

  constructor(private readonly mostBytes: number) {}

  get(key: string): Checkpoint | undefined {
    const found = this.kept.get(key);
    if (!found) return undefined;
    this.kept.delete(key); // the newest lie last
    this.kept.set(key, found);
    return found;
  }

  put(key: string, checkpoint: Checkpoint): void {
    this.kept.delete(key);
    this.kept.set(key, checkpoint);
    let bytes = 0;
    for (const one of this.kept.values()) bytes += bytesOf(one);
    for (const one of this.kept.values()) {
      if (bytes <= this.mostBytes) break;
      if (one === checkpoint) continue;
      bytes -= bytesOf(one);
      one.signal = undefined;
    }
  }

  /** All whose keys begin so. */
  forget(prefix: string): void {
    for (const key of [...this.kept.keys()]) if (key.startsWith(prefix)) this.kept.delete(key);
  }
}
