import type { Recording, RecordingSet, Standing } from '@tonos/contract';
import Papa from 'papaparse';
import type { Fill } from './lay-out-order.ts';

/** What fills the places of a pattern, programme by programme. */

/** One place by several recordings in turn: with one, that one for all. */
export type Turns = Readonly<Record<string, readonly string[]>>;

/** A programme for each body. */
export const fillsOf = (bodyPlace: string, bodies: readonly string[], turns: Turns): Fill[] =>
  bodies.map((body, i) => ({
    ...Object.fromEntries(
      Object.entries(turns).flatMap(([place, ids]) => (ids.length ? [[place, ids[i % ids.length]]] : [])),
    ),
    [bodyPlace]: body,
  }));

/** The latest delivery of each recording that is within or accepted, and current, by the recording's id. */
export const deliveriesOf = (standings: readonly Standing[]): Map<string, string> =>
  new Map(
    standings.flatMap(({ recordingId, itemId, state }) =>
      itemId && (state === 'within' || state === 'accepted') ? [[recordingId, itemId] as const] : [],
    ),
  );

/** The same programmes, with deliveries in the place of recordings where there are some. */
export const withDeliveries = (fills: readonly Fill[], deliveries: ReadonlyMap<string, string>): Fill[] =>
  fills.map((fill) => Object.fromEntries(Object.entries(fill).map(([place, id]) => [place, deliveries.get(id) ?? id])));

/** What may fill a place, as lists name it. */
export interface Filling {
  value: string;
  label: string;
}

export const fillingOf = ({ id, name, givenName }: Recording): Filling => ({ value: id, label: givenName || name });

/** Linked recordings, which fill a place with the sum of all. */
export function linkedFillings(sets: readonly RecordingSet[], recordings: readonly Recording[]): Filling[] {
  const labels = new Map(recordings.map((recording) => [recording.id, fillingOf(recording).label]));
  return sets.map(({ id, members }) => ({
    value: id,
    label: members.map(({ recordingId }) => labels.get(recordingId) ?? '').join(' + '),
  }));
}

export interface ReadFills {
  fills: Fill[];
  /** What is wrong, line by line. */
  refused: string[];
}

/** A table whose columns are places and whose cells name recordings, as the title calls them or as their files are called, or linked ones. */
export function readFillsCsv(
  text: string,
  places: readonly string[],
  recordings: readonly Recording[],
  linked: readonly Filling[] = [],
): ReadFills {
  const { data, meta } = Papa.parse<Record<string, string>>(text.trim(), { header: true, skipEmptyLines: true });
  const lacking = places.filter((place) => !meta.fields?.includes(place));
  if (lacking.length)
    return { fills: [], refused: [`There is no column ${lacking.map((place) => `\u201c${place}\u201d`).join(', ')}.`] };
  const byName = new Map([
    ...linked.map(({ value, label }) => [label, value] as const),
    ...recordings.flatMap(({ id, name, givenName }) =>
      [name, givenName].filter(Boolean).map((one) => [one, id] as const),
    ),
  ]);
  const refused: string[] = [];
  const fills = data.flatMap((row, i) => {
    const unknown = places.filter((place) => !byName.has(row[place]?.trim() ?? ''));
    for (const place of unknown)
      refused.push(
        row[place]?.trim()
          ? `Line ${i + 2}: there is no recording \u201c${row[place]}\u201d in this title.`
          : `Line ${i + 2}: nothing fills \u201c${place}\u201d.`,
      );
    return unknown.length ? [] : [Object.fromEntries(places.map((place) => [place, byName.get(row[place].trim())!]))];
  });
  return { fills, refused };
}
