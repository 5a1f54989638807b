import { type IndexPlace, indexPlace } from '@tonos/contract';
import * as z from 'zod';

/** A place as it is shown: personal ones live in this browser and lie over the shared one of their letter. */
export interface ShownPlace extends IndexPlace {
  own: boolean;
}

const KEY = 'tonos.index';
const stored = z.array(indexPlace);

/** The personal places; none where what was stored is something else. */
export function ownPlaces(storage: Pick<Storage, 'getItem'> = localStorage): IndexPlace[] {
  try {
    return stored.parse(JSON.parse(storage.getItem(KEY) ?? '[]'));
  } catch {
    return [];
  }
}

export function keepOwnPlaces(places: readonly IndexPlace[], storage: Pick<Storage, 'setItem'> = localStorage): void {
  storage.setItem(KEY, JSON.stringify(places));
}

/** All places by letter. */
export function shownPlaces(shared: readonly IndexPlace[], own: readonly IndexPlace[]): ShownPlace[] {
  const byLetter = new Map<string, ShownPlace>();
  for (const place of shared) byLetter.set(place.letter, { ...place, own: false });
  for (const place of own) byLetter.set(place.letter, { ...place, own: true });
  return [...byLetter.values()].sort((a, b) => a.letter.localeCompare(b.letter));
}
