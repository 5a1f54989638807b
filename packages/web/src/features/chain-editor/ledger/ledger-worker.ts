import type { Findings } from '@tonos/core';
import { fetchFrames } from '../../../listening/engine/sample-reader.ts';
import { LedgerKeeper } from './ledger-keeper.ts';
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

const keeper = new LedgerKeeper(fetchFrames, pause);
let current = new AbortController();

scope.onmessage = async ({ data }) => {
  current.abort();
  const mine = new AbortController();
  current = mine;
  try {
    let findings: Record<string, Findings> = {};
    await keeper.measure(data, mine.signal, (rows) => {
      findings = rows.findings;
      if (!mine.signal.aborted) scope.postMessage({ type: 'rows', asked: data.asked, ...rows });
    });
    if (!data.pictureOf) return;
    const picture = await keeper.picture(data, data.pictureOf, findings, mine.signal);
    if (picture && !mine.signal.aborted) scope.postMessage({ type: 'picture', asked: data.asked, picture });
  } catch (error) {
    if (!mine.signal.aborted)
      scope.postMessage({ type: 'trouble', asked: data.asked, message: (error as Error).message });
  }
};
