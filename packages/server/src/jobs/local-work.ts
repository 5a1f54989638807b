import { untilWorthTrying } from '../storage/disk-trouble.ts';
import type { Work, WorkSource } from '../workers/dispatcher.ts';
import type { JobEnd } from '../workers/messages.ts';
import type { ClaimEntity } from './claim-entity.ts';
import type { JobStore } from './job-store.ts';
import { type PlacedJob, placeJob, type Workplace } from './payload.ts';

interface UnderWay {
  claim: ClaimEntity;
  controller: AbortController;
}

/** Work for the threads of this process. */
export class LocalWork implements WorkSource {
  private readonly underWay = new Map<number, UnderWay>();
  private readonly interrupted = new AbortController();
  /** How often in a row the end of work on something could not be kept. */
  private readonly failures = new Map<string, number>();

  constructor(
    private readonly jobs: JobStore,
    private readonly at: Workplace,
  ) {}

  async take(): Promise<Work | undefined> {
    if (this.interrupted.signal.aborted) return undefined;
    const claimed = await this.jobs.claim(null);
    if (!claimed) return undefined;
    const { claim, payload } = claimed;
    const controller = new AbortController();
    // P16: known before anything else is waited for, so that cancelling and stopping reach it
    this.underWay.set(claim.fence, { claim, controller });
    if (this.interrupted.signal.aborted) controller.abort();
    const startedMs = performance.now();
    const placed = await placeJob(payload, this.at).catch((error) => this.giveBack(claim, error));
    return {
      job: placed.job,
      signal: controller.signal,
      progress: (share, stage) => this.jobs.progress([claim], [{ fence: claim.fence, share, stage }]),
      end: (end) => this.end(claim, placed, end, (performance.now() - startedMs) / 1000),
    };
  }

  /** Stops the threads of what nobody wants any more. */
  async abandonUnwanted(): Promise<void> {
    const { ended } = await this.jobs.renew(null, [...this.underWay.keys()]);
    for (const fence of ended) this.underWay.get(fence)?.controller.abort();
  }

  /** What is under way waits again: the next start takes it up. */
  interrupt(): void {
    this.interrupted.abort();
    for (const { controller } of this.underWay.values()) controller.abort();
  }

  /** What was taken and can't be begun waits again: nobody would end it. */
  private async giveBack(claim: ClaimEntity, reason: unknown): Promise<never> {
    this.underWay.delete(claim.fence);
    await this.jobs.release(null, claim.fence);
    throw reason;
  }

  private async end(claim: ClaimEntity, placed: PlacedJob, end: JobEnd, seconds: number): Promise<void> {
    const { fence, subjectId } = claim;
    try {
      if (end.type === 'cancelled') return await this.jobs.release(null, fence);
      // nothing is wrong with a recording that there was no room to measure
      if (end.type === 'failed' && end.error.code === 'disk-full' && claim.kind === 'measure')
        return await this.later(claim, 1);
      await this.jobs.settle(null, fence, async () => ({ end, made: placed.products, seconds }));
      this.failures.delete(subjectId);
    } catch (error) {
      const failures = (this.failures.get(subjectId) ?? 0) + 1;
      this.failures.set(subjectId, failures);
      await this.later(claim, failures).catch(() => {}); // the server stops: its next start begins it again
      throw error;
    } finally {
      this.underWay.delete(fence);
      // a thread that was ended in the middle leaves its files
      await placed.clear();
    }
  }

  /** It is held until it is worth trying again. */
  private async later({ fence }: ClaimEntity, failures: number): Promise<void> {
    await untilWorthTrying(this.interrupted.signal, failures);
    await this.jobs.release(null, fence);
  }
}
