import type { Complaint, ComplaintCode, ComplaintPlace } from '@tonos/core';
import { useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';

export interface ComplaintTour {
  /** Places of all complaints, in time. */
  count: number;
  at: number;
  current: ComplaintPlace | undefined;
  /** Where it stands, if that is a place of this complaint. */
  currentOf(code: ComplaintCode): ComplaintPlace | undefined;
  goTo(code: ComplaintCode): void;
}

/** Goes from one complaint's place to the next by keys. What fills the recording has no place to go to. */
export function useComplaintTour(
  complaints: readonly Complaint[],
  show: (place: ComplaintPlace) => void,
): ComplaintTour {
  const places = useMemo(
    () =>
      complaints
        .flatMap(({ code, places: own }) => own.map((place) => ({ code, place })))
        .sort((a, b) => a.place.startSeconds - b.place.startSeconds),
    [complaints],
  );
  const [at, setAt] = useState(-1);
  const go = (to: number) => {
    if (!places.length) return;
    const next = (to + places.length) % places.length;
    setAt(next);
    show(places[next].place);
  };
  useHotkeys('n', () => go(at + 1));
  useHotkeys('p', () => go(at < 0 ? -1 : at - 1));
  return {
    count: places.length,
    at,
    current: places[at]?.place,
    currentOf: (code) => (places[at]?.code === code ? places[at].place : undefined),
    goTo: (code) => {
      const after = places.findIndex((one, i) => one.code === code && i > at);
      go(after >= 0 ? after : places.findIndex((one) => one.code === code));
    },
  };
}
