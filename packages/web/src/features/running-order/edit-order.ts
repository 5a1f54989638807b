import { nanoid } from '@reduxjs/toolkit';
import type { OrderFile, OrderGroup, OrderPart } from '@tonos/core';

/** Changes of a running order, each giving a new one. */

export const withPart = (order: OrderFile, id: string, change: Partial<OrderPart>): OrderFile => ({
  ...order,
  parts: order.parts.map((part) => (part.id === id ? { ...part, ...change } : part)),
});

export const withGroup = (order: OrderFile, id: string, change: Partial<OrderGroup>): OrderFile => ({
  ...order,
  groups: order.groups.map((group) => (group.id === id ? { ...group, ...change } : group)),
});

/** A part behind the one chosen, or the last: it begins after it, in its group. */
export function withNewPart(order: OrderFile, behind: string | null): { order: OrderFile; id: string } {
  const at = order.parts.findIndex(({ id }) => id === behind);
  const before = at < 0 ? order.parts.at(-1) : order.parts[at];
  const taken = new Set(order.parts.map(({ id }) => id));
  let id = `part-${order.parts.length + 1}`;
  if (taken.has(id)) id = `part-${nanoid(6)}`;
  const groups = order.groups.length ? order.groups : [{ id: 'voices', name: 'Voices', chain: null, gainDb: 0 }];
  const part: OrderPart = {
    id,
    name: '',
    group: before?.group ?? groups[0].id,
    source: { place: 'body' },
    begins: { after: before?.id ?? null, gapSeconds: 0 },
    lasts: null,
    fadeInSeconds: 0,
    fadeOutSeconds: 0,
    shape: 's-curve',
    level: null,
    gainDb: 0,
    pan: 0,
    chain: null,
    chapter: null,
  };
  const place = at < 0 ? order.parts.length : at + 1;
  return { order: { ...order, groups, parts: order.parts.toSpliced(place, 0, part) }, id };
}

/** Without a part; what hung on it begins as it did. */
export function withoutPart(order: OrderFile, id: string): OrderFile {
  const gone = order.parts.find((part) => part.id === id);
  if (!gone) return order;
  // at one mark there is room for one
  const instead = 'into' in gone.begins ? { with: gone.begins.into, offsetSeconds: 0 } : gone.begins;
  const parts = order.parts
    .filter((part) => part !== gone)
    .map((part) => ({
      ...part,
      ...(partBegunBy(part) === id && { begins: instead }),
      ...(partLastedBy(part) === id && { lasts: null }),
    }));
  return { ...order, parts };
}

/** The part that another one begins by. */
const partBegunBy = ({ begins }: OrderPart): string | null =>
  'after' in begins ? begins.after : 'with' in begins ? begins.with : begins.into;

/** The part until which another one lasts. */
const partLastedBy = ({ lasts }: OrderPart): string | null =>
  !lasts ? null : 'untilEndOf' in lasts ? lasts.untilEndOf : lasts.untilBeginOf;

export function movedPart(order: OrderFile, id: string, by: number): OrderFile {
  const at = order.parts.findIndex((part) => part.id === id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= order.parts.length) return order;
  return { ...order, parts: order.parts.toSpliced(at, 1).toSpliced(to, 0, order.parts[at]) };
}

export function withNewGroup(order: OrderFile): OrderFile {
  const number = order.groups.length + 1;
  return {
    ...order,
    groups: [...order.groups, { id: `group-${nanoid(6)}`, name: `Group ${number}`, chain: null, gainDb: 0 }],
  };
}

/** Without a group that holds no parts, and without what gave way to it. */
export const withoutGroup = (order: OrderFile, id: string): OrderFile => ({
  ...order,
  groups: order.groups.filter((group) => group.id !== id),
  under: order.under
    .filter(({ group }) => group !== id)
    .map((under) => ({ ...under, of: under.of.filter((other) => other !== id) }))
    .filter(({ of }) => of.length > 0),
});

/** A part begun so much later; undefined where nothing of it can be shifted. Hundredths of a second. */
export function shiftedBegin({ begins }: OrderPart, by: number): OrderPart['begins'] | undefined {
  const round = (seconds: number) => Math.round(100 * seconds) / 100;
  if ('after' in begins) {
    const gapSeconds = round(begins.gapSeconds + by);
    return { ...begins, gapSeconds: begins.after === null ? Math.max(0, gapSeconds) : gapSeconds };
  }
  return 'with' in begins ? { ...begins, offsetSeconds: round(begins.offsetSeconds + by) } : undefined;
}
