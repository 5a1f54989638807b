import type { IndexPlace } from '@tonos/contract';
import { useCallback, useMemo, useSyncExternalStore } from 'react';
import { api } from '../api/api.ts';
import { sayError } from '../ui/notify.ts';
import type { Placed } from './PlaceForm.tsx';
import { keepOwnPlaces, ownPlaces, type ShownPlace, shownPlaces } from './places.ts';

/** Personal places are the same in every part of the page; another tab's changes count too. */
let own: IndexPlace[] | undefined;
const readers = new Set<() => void>();
const renew = (places?: IndexPlace[]) => {
  own = places ?? ownPlaces();
  for (const read of readers) read();
};
const subscribe = (read: () => void) => {
  const changed = () => renew();
  readers.add(read);
  addEventListener('storage', changed);
  return () => {
    readers.delete(read);
    removeEventListener('storage', changed);
  };
};
const current = () => {
  own ??= ownPlaces();
  return own;
};

export interface Places {
  places: ShownPlace[];
  /** What lies at each letter. */
  taken: ReadonlyMap<string, string>;
  /** @returns whether it worked */
  put(placed: Placed): Promise<boolean>;
  clear(place: ShownPlace): Promise<void>;
}

/** The thumb index: shared places from the server, personal ones from this browser. */
export function usePlaces(): Places {
  const { data: shared = [] } = api.useIndexPlacesQuery();
  const mine = useSyncExternalStore(subscribe, current);
  const [set] = api.useSetIndexPlaceMutation();
  const [remove] = api.useRemoveIndexPlaceMutation();
  const places = useMemo(() => shownPlaces(shared, mine), [shared, mine]);
  const taken = useMemo(() => new Map(places.map(({ letter, name }) => [letter, name])), [places]);
  const keep = useCallback((changed: IndexPlace[]) => {
    keepOwnPlaces(changed);
    renew(changed);
  }, []);
  return {
    places,
    taken,
    put: async ({ own: isOwn, ...place }) => {
      if (isOwn) {
        keep([...current().filter(({ letter }) => letter !== place.letter), place]);
        return true;
      }
      const { error } = await set(place);
      if (error) sayError('Nothing was put into the index', error);
      return !error;
    },
    clear: async ({ letter, own: isOwn }) => {
      if (isOwn) return keep(current().filter((one) => one.letter !== letter));
      const { error } = await remove(letter);
      if (error) sayError('The place was not cleared', error);
    },
  };
}
