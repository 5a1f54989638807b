import type { Recording } from '@tonos/contract';
import { type OrderFault, type OrderFile, type OrderPart, placesOf, type ResolvedOrder } from '@tonos/core';
import { useCallback, useMemo, useRef } from 'react';
import { api } from '../../api/api.ts';
import { useLatest } from '../../ui/use-latest.ts';
import { useSame } from '../../ui/use-same.ts';
import { type Fill, layOutOrder, recordingIdOf, withUnmoved } from './lay-out-order.ts';

const NO_RECORDINGS: Recording[] = [];

/** An order as it is looked at: what fills its places, and where its parts lie. */
export interface ShownOrder {
  /** Those of the title, and those on the shelf. */
  recordings: readonly Recording[];
  byId: ReadonlyMap<string, Recording>;
  places: readonly string[];
  fill: Fill;
  /** Missing while it can't be put together; the faults say why. */
  resolved: ResolvedOrder | undefined;
  faults: readonly OrderFault[];
  /** The latest one that could be. */
  drawn: ResolvedOrder | undefined;
  /** Lays out what is not kept yet. */
  layOut(order: OrderFile): ResolvedOrder | undefined;
  /** Whose wave a part shows: none while it is being measured. */
  waveOf(part: OrderPart): string | undefined;
  marksOf(partId: string): string[];
}

/** @param looked what the places are filled with, where somebody has chosen it */
export function useShownOrder(titleId: string, order: OrderFile, looked: Fill): ShownOrder {
  const { data: own = NO_RECORDINGS } = api.useRecordingsQuery(titleId);
  const { data: shelf = NO_RECORDINGS } = api.useShelfQuery();
  const recordings = useMemo(
    () => [...own, ...shelf.filter(({ id }) => !own.some((one) => one.id === id))],
    [own, shelf],
  );
  const byId = useMemo(() => new Map(recordings.map((recording) => [recording.id, recording])), [recordings]);
  const fill = useSame(useMemo(() => shownFill(order, recordings, looked), [order, recordings, looked]));
  const places = useSame(useMemo(() => placesOf(order), [order]));
  const last = useRef<ResolvedOrder>(undefined);
  const { resolved, faults } = useMemo(() => {
    const laidOut = layOutOrder(order, byId, fill);
    if (laidOut.resolved) last.current = withUnmoved(last.current, laidOut.resolved);
    return { resolved: laidOut.resolved && last.current, faults: laidOut.faults };
  }, [order, byId, fill]);
  const layOut = useLatest((dragged: OrderFile) => layOutOrder(dragged, byId, fill).resolved);
  const waveOf = (part: OrderPart) => {
    const id = recordingIdOf(part, fill);
    return id !== undefined && byId.get(id)?.measurement ? id : undefined;
  };
  const marksOf = useCallback(
    (partId: string) => {
      const host = order.parts.find(({ id }) => id === partId);
      const marks = host && byId.get(recordingIdOf(host, fill) ?? '')?.marks;
      return [...new Set((marks ?? []).map(({ name }) => name))];
    },
    [order, byId, fill],
  );
  return { recordings, byId, places, fill, resolved, faults, drawn: resolved ?? last.current, layOut, waveOf, marksOf };
}

/** The places filled as they were chosen to be looked at, the others by what has the marks that are wanted, or by the first that there is. */
function shownFill(order: OrderFile, recordings: readonly Recording[], looked: Fill): Fill {
  const fixed = new Set(order.parts.flatMap(({ source }) => ('recording' in source ? [source.recording] : [])));
  const free = recordings.filter(({ id, status, kind }) => status === 'ready' && kind === 'voice' && !fixed.has(id));
  return Object.fromEntries(
    placesOf(order).flatMap((place) => {
      if (looked[place]) return [[place, looked[place]]];
      const hosts = order.parts.filter(({ source }) => 'place' in source && source.place === place).map(({ id }) => id);
      const wanted = order.parts.flatMap(({ begins }) =>
        'into' in begins && hosts.includes(begins.into) ? [begins.mark] : [],
      );
      if (place !== 'body' && !wanted.length) return [];
      const has = ({ marks }: Recording) => wanted.every((mark) => marks.some(({ name }) => name === mark));
      const shown = free.find(has);
      return shown ? [[place, shown.id]] : [];
    }),
  );
}
