import { type ProgrammeLedger, type ProgrammeLedgerLine, type Recording, ROUTES } from '@tonos/contract';
import { type OrderFile, placesOf } from '@tonos/core';
import { useEffect, useMemo, useState } from 'react';
import { askSettled } from '../../api/ask-settled.ts';
import { useLatest } from '../../ui/use-latest.ts';
import { type Fill, recordingIdOf } from './lay-out-order.ts';

export interface OrderLedger {
  /** The latest one that is known. */
  ledger: ProgrammeLedger | null;
  /** What it is of. */
  of: OrderFile | null;
  /** Whether it is of the order as it is now. */
  fresh: boolean;
}

/** How far it is with one that is being made, and why there is none. */
export interface LedgerProgress {
  /** The share that is measured, while it is. */
  share: number | null;
  trouble: string | null;
  again(): void;
}

/** What an order does to the levels, measured by the server while it is edited. @param sound whether it can be put together as it is */
export function useOrderLedger(
  orderId: string,
  order: OrderFile,
  fill: Fill,
  recordings: ReadonlyMap<string, Recording>,
  sound: boolean,
): { ledger: OrderLedger; progress: LedgerProgress } {
  const [told, setTold] = useState<{ key: string; of: OrderFile; ledger: ProgrammeLedger } | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [tries, setTries] = useState(0);
  const again = useLatest(() => {
    setTrouble(null);
    setTries(tries + 1);
  });
  const key = useMemo(() => {
    const used = order.parts.map((part) => recordings.get(recordingIdOf(part, fill) ?? ''));
    if (!sound || placesOf(order).some((place) => !fill[place]) || used.some((one) => one?.status !== 'ready'))
      return null;
    // what people mark is part of how it sounds
    const made = used.map((one) => one && [one.id, one.cuts, one.boxes, one.marks, one.roomToneChoice]);
    return JSON.stringify([order, fill, made]);
  }, [order, fill, recordings, sound]);
  const fresh = told !== null && told.key === key;
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is asked again where somebody tries again
  useEffect(() => {
    if (key === null || fresh) return;
    const [asked, filled] = JSON.parse(key) as [OrderFile, Fill];
    const used = Object.fromEntries(placesOf(asked).map((place) => [place, filled[place]]));
    return askSettled<ProgrammeLedgerLine>(
      ROUTES.orderLedger,
      { params: { id: orderId }, body: { order: asked, fill: used } },
      {
        begun: () => setShare(0),
        tell: (line) => {
          setTrouble(line.type === 'failed' ? line.message : null);
          if (line.type === 'progress') setShare(line.share);
          else if (line.type === 'done') setTold({ key, of: asked, ledger: line.ledger });
        },
        trouble: setTrouble,
        ended: () => setShare(null),
      },
    );
  }, [orderId, key, fresh, tries]);
  const ledger = useMemo(() => ({ ledger: told?.ledger ?? null, of: told?.of ?? null, fresh }), [told, fresh]);
  return { ledger, progress: { share, trouble: key === null ? null : trouble, again } };
}
