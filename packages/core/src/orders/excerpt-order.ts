import { stretchOfPart } from './foretold-part.ts';
import type { OrderFile, OrderPart } from './order-file.ts';

/**
 * A short programme that sounds like a long one: of each part its middle, with the same levels, groups and chains. By it a forecast is made.
 */

const LEAST_OFFSET_SECONDS = -2;
const MOST_OFFSET_SECONDS = 2;
const near = (seconds: number) => Math.min(MOST_OFFSET_SECONDS, Math.max(LEAST_OFFSET_SECONDS, seconds));

/**
 * @param recordings of each part, with how long it is
 * @param most seconds that are taken of a part
 */
export function excerptOrder(
  order: OrderFile,
  recordings: ReadonlyMap<string, { id: string; durationSeconds: number }>,
  most: (part: OrderPart) => number,
): OrderFile {
  /** Behind which part the next one of those that open a part plays. */
  const inserted = new Map<string, string>();
  const parts = order.parts.map((part): OrderPart => {
    const { id, durationSeconds } = recordings.get(part.id)!;
    const [from, to] = stretchOfPart(part, durationSeconds);
    const spare = Math.max(0, to - from - most(part)) / 2;
    const source = { recording: id, startSeconds: from + spare, endSeconds: to - spare };
    const { begins, lasts } = part;
    const moved = { ...part, source, lasts: lasts && { ...lasts, offsetSeconds: near(lasts.offsetSeconds) } };
    if ('with' in begins) return { ...moved, begins: { ...begins, offsetSeconds: near(begins.offsetSeconds) } };
    if ('after' in begins) return { ...moved, begins: { ...begins, gapSeconds: near(begins.gapSeconds) } };
    const after = inserted.get(begins.into) ?? begins.into;
    inserted.set(begins.into, part.id);
    return { ...moved, begins: { after, gapSeconds: 0 } };
  });
  return { ...order, parts };
}
