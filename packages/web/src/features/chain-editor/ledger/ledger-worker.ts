import { type Findings, sharedWatch, watchModules } from '@tonos/core';
import { fetchFrames } from '../../../listening/engine/sample-reader.ts';
import { afterLearning } from '../../../modules/learn-modules.ts';
import { Checkpoints } from './checkpoints.ts';
import { LedgerKeeper, MOST_LEDGER_BYTES } from './ledger-keeper.ts';
import type { FromLedger, ToLedger } from './messages.ts';

// the library of the DOM does not know the worker's own scope
const scope = self as unknown as {
  postMessage(message: FromLedger): void;
  onmessage: ((event: MessageEvent<ToLedger>) => void) | null;
};

/** A message channel comes round sooner than a timer. */
const { port1, port2 } = new MessageChannel();
const waiting: (() => void)[] = [];
port1.onmessage = () => waiting.shift()?.();
const pause = () =>
  new Promise<void>((resolve) => {
    waiting.push(resolve);
    port2.postMessage(null);
  });

/** P11: one budget for all ledgers of the page. */
const kept = new Checkpoints(MOST_LEDGER_BYTES);
const seats = new Map<string, { keeper: LedgerKeeper; current: AbortController }>();

function seatOf(name: string) {
  const known = seats.get(name);
  if (known) return known;
  const seat = { keeper: new LedgerKeeper(fetchFrames, pause, kept, name), current: new AbortController() };
  seats.set(name, seat);
  return seat;
}

/** What runs here runs beside the page: a block of some tenths of a second is nobody's wait. */
const LEAST_MODULE_MS = 500;

async function take(data: ToLedger): Promise<void> {
  if (data.type === 'start') return watchModules(sharedWatch(data.watch, LEAST_MODULE_MS));
  const { seat: name } = data;
  const seat = seatOf(name);
  seat.current.abort();
  if (data.type === 'leave') {
    seat.keeper.forget();
    seats.delete(name);
    return;
  }
  const { asked } = data;
  const mine = new AbortController();
  seat.current = mine;
  try {
    let findings: Record<string, Findings> = {};
    await seat.keeper.measure(data, mine.signal, (rows) => {
      findings = rows.findings;
      if (!mine.signal.aborted) scope.postMessage({ seat: name, type: 'rows', asked, ...rows });
    });
    if (!data.pictureOf) return;
    const picture = await seat.keeper.picture(data, data.pictureOf, findings, mine.signal);
    if (picture && !mine.signal.aborted) scope.postMessage({ seat: name, type: 'picture', asked, picture });
  } catch (error) {
    if (!mine.signal.aborted)
      scope.postMessage({ seat: name, type: 'trouble', asked, message: (error as Error).message });
  }
}

const takeInTurn = afterLearning<ToLedger>(
  (message) => void take(message),
  (message) => ('steps' in message ? message.steps : []),
);

scope.onmessage = ({ data }) => takeInTurn(data);
