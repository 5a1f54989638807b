import { nanoid } from '@reduxjs/toolkit';
import { WatchedWorker } from '../../../modules/index.ts';
import type { FromLedger, ToLedger } from './messages.ts';

/** P11: the one worker of a page that keeps its ledgers, as long as there is any. */
let shared: WatchedWorker<ToLedger> | undefined;
const hearers = new Map<string, { asked: number; hear(message: FromLedger): void }>();

function startShared(): WatchedWorker<ToLedger> {
  const start = () => {
    const worker = new Worker(new URL('./ledger-worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromLedger>) => hearers.get(data.seat)?.hear(data);
    return worker;
  };
  return new WatchedWorker<ToLedger>(
    start,
    (watch) => ({ type: 'start', watch }),
    (message) => {
      shared = undefined;
      for (const [seat, { asked, hear }] of hearers) hear({ seat, type: 'trouble', asked, message });
    },
  );
}

type Question = Omit<Extract<ToLedger, { type: 'measure' }>, 'seat' | 'type'>;

/** One ledger's place in it. */
export class LedgerSeat {
  private readonly name = nanoid();

  /** What was asked before is not answered any more. */
  ask(question: Question, hear: (message: FromLedger) => void): void {
    shared ??= startShared();
    hearers.set(this.name, { asked: question.asked, hear });
    shared.tell({ seat: this.name, type: 'measure', ...question });
  }

  leave(): void {
    hearers.delete(this.name);
    if (hearers.size) shared?.tell({ seat: this.name, type: 'leave' });
    else {
      shared?.end();
      shared = undefined;
    }
  }
}
