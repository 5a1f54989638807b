import * as z from 'zod';
import type { RoomTone } from './activity/room-tone.ts';

const span = z.strictObject({ startSeconds: z.number().min(0).max(1e6), endSeconds: z.number().min(0).max(1e6) });

/** What a person said about a recording's room tone: where it surely is, and where it surely is not. */
export const roomToneChoice = z.strictObject({
  use: z.array(span).max(100).default([]),
  never: z.array(span).max(100).default([]),
});

export type RoomToneChoice = z.output<typeof roomToneChoice>;
export type TimeSpan = z.output<typeof span>;

export const NO_CHOICE: RoomToneChoice = { use: [], never: [] };

export const overlaps = (a: TimeSpan, b: TimeSpan): boolean =>
  a.startSeconds < b.endSeconds && b.startSeconds < a.endSeconds;

const LEAST_SECONDS = 0.2;

/** Found room tone without the stretches that must not be used; the rest of one that is cut stays where it is long enough. */
export function withoutNever(found: readonly RoomTone[], { never }: RoomToneChoice): RoomTone[] {
  return never.reduce<RoomTone[]>(
    (tones, banned) =>
      tones.flatMap((tone) => {
        if (!overlaps(tone, banned)) return [tone];
        const before = { ...tone, endSeconds: banned.startSeconds };
        const after = { ...tone, startSeconds: banned.endSeconds };
        return [before, after].filter(({ startSeconds, endSeconds }) => endSeconds - startSeconds >= LEAST_SECONDS);
      }),
    [...found],
  );
}
