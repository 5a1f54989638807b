import type { OrderPart } from '@tonos/core';

/** What a row says, as people say it. @param nameOf a part by its id */
type NameOf = (id: string) => string;

const seconds = (value: number) => `${Math.abs(value).toFixed(2)} s`;

export function beginsWords({ begins }: OrderPart, nameOf: NameOf): string {
  if ('into' in begins) return `inside ${nameOf(begins.into)}, at \u201c${begins.mark}\u201d`;
  if ('with' in begins) {
    const { offsetSeconds } = begins;
    if (!offsetSeconds) return `with ${nameOf(begins.with)}`;
    return `${seconds(offsetSeconds)} ${offsetSeconds < 0 ? 'before' : 'after'} ${nameOf(begins.with)} begins`;
  }
  const { after, gapSeconds } = begins;
  if (after === null) return gapSeconds ? `${seconds(gapSeconds)} into the programme` : 'at the start';
  if (!gapSeconds) return `when ${nameOf(after)} ends`;
  return `${seconds(gapSeconds)} ${gapSeconds < 0 ? 'before' : 'after'} ${nameOf(after)} ends`;
}

export function lastsWords({ lasts }: OrderPart, nameOf: NameOf): string {
  if (!lasts) return 'as long as it is';
  const [id, what] = 'untilEndOf' in lasts ? [lasts.untilEndOf, 'ends'] : [lasts.untilBeginOf, 'begins'];
  const { offsetSeconds, loop } = lasts;
  const when = offsetSeconds ? `${seconds(offsetSeconds)} ${offsetSeconds < 0 ? 'before' : 'after'} ` : '';
  return `${loop ? 'repeated ' : ''}until ${when}${nameOf(id)} ${what}`;
}

/** The dimension line over a part's begin: how far it lies from what it hangs on, or what is opened for it. @param lasts in seconds */
export function distanceWords({ begins }: OrderPart, lasts: number): string {
  if ('into' in begins) return `${begins.mark}, ${seconds(lasts)}`;
  const by = 'after' in begins ? begins.gapSeconds : begins.offsetSeconds;
  if (!by) return '';
  const word = by > 0 ? 'after' : 'after' in begins ? 'over' : 'before';
  return `${seconds(by)} ${word}`;
}
