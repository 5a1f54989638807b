import { nanoid } from '@reduxjs/toolkit';
import type { FromLedger, ToLedger } from './messages.ts';

/** P11: the one worker of a page that keeps its ledgers, as long as there is any. */
let worker: Worker | undefined;
const hearers = new Map<string, (message: FromLedger) => void>();

type Question = Omit<Extract<ToLedger, { type: 'measure' }>, 'seat' | 'type'>;

/** One ledger's place in it. */
export class LedgerSeat {
  private readonly name = nanoid();

  /** What was asked before is not answered any more. */
  ask(question: Question, hear: (message: FromLedger) => void): void {
    if (!worker) {
      worker = new Worker(new URL('./ledger-worker.ts', import.meta.url), { type: 'module' });
      worker.onmessage = ({ data }: MessageEvent<FromLedger>) => hearers.get(data.seat)?.(data);
    }
    hearers.set(this.name, hear);
    worker.postMessage({ seat: this.name, type: 'measure', ...question } satisfies ToLedger);
  }

  leave(): void {
    hearers.delete(this.name);
    if (hearers.size) worker?.postMessage({ seat: this.name, type: 'leave' } satisfies ToLedger);
    else {
      worker?.terminate();
      worker = undefined;
    }
  }
}
