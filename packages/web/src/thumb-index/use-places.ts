import type { IndexPlace } from '@tonos/contract';
import { useCallback, useMemo, useSyncExternalStore } from 'react';
import { api } from '../api/api.ts';
import { sayError } from '../ui/notify.ts';
import { sayUndo } from '../ui/say-undo.tsx';
import type { Placed } from './LetterFields.tsx';
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
  const put = async ({ own: isOwn, letter, name, content }: Placed): Promise<boolean> => {
    if (isOwn) {
      keep([...current().filter((one) => one.letter !== letter), { letter, name, content }]);
      return true;
    }
    const { error } = await set({ letter, name, content });
    if (error) sayError('Nothing was put into the index', error);
    return !error;
  };
  return {
    places,
    taken,
    put,
    clear: async (place) => {
      const { letter, own: isOwn } = place;
      if (isOwn) keep(current().filter((one) => one.letter !== letter));
      else {
        const { error } = await remove(letter);
        if (error) return void sayError('The place was not cleared', error);
      }
      sayUndo(`${letter} is free: “${place.name}” was there.`, () => void put(place));
    },
  };
}
