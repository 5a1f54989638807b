import type * as z from 'zod';
import { type OrderFile, orderFile } from './order-file.ts';

const pattern = (file: Omit<z.input<typeof orderFile>, 'format'>): OrderFile =>
  orderFile.parse({ format: 'tonos.order/1', ...file });

const VOICES = { id: 'voices', name: 'Voices' };
const MUSIC = { id: 'music', name: 'Music' };

const make = (): readonly OrderFile[] => [
  pattern({
    name: 'Chapter with credits',
    channels: 1,
    groups: [VOICES],
    parts: [
      { id: 'opening-credits', name: 'Opening credits', group: 'voices', source: { place: 'opening credits' } },
      {
        id: 'body',
        name: 'Chapter',
        group: 'voices',
        source: { place: 'body' },
        begins: { after: 'opening-credits', gapSeconds: 2 },
        chapter: 'Chapter',
      },
      {
        id: 'end-credits',
        name: 'End credits',
        group: 'voices',
        source: { place: 'end credits' },
        begins: { after: 'body', gapSeconds: 3 },
      },
    ],
  }),
  pattern({
    name: 'Weekly episode',
    groups: [VOICES, MUSIC, { id: 'sounds', name: 'Sounds' }],
    parts: [
      {
        id: 'opening',
        name: 'Opening',
        group: 'music',
        source: { place: 'opening' },
        level: { integratedLufs: -20 },
        fadeOutSeconds: 2,
        chapter: 'Opening',
      },
      {
        id: 'body',
        name: 'Body',
        group: 'voices',
        source: { place: 'body' },
        begins: { after: 'opening', gapSeconds: -1.5 },
        level: { integratedLufs: -18 },
        chapter: 'Conversation',
      },
      {
        id: 'bed',
        name: 'Bed',
        group: 'music',
        source: { place: 'bed' },
        begins: { with: 'body', offsetSeconds: 0.5 },
        lasts: { untilEndOf: 'body', offsetSeconds: 2, loop: true },
        fadeInSeconds: 1.5,
        fadeOutSeconds: 4,
        level: { integratedLufs: -28 },
      },
      {
        id: 'break',
        name: 'Break',
        group: 'sounds',
        source: { place: 'spot' },
        begins: { into: 'body', mark: 'break 1' },
        level: { integratedLufs: -18 },
        chapter: 'Break',
      },
      {
        id: 'closing',
        name: 'Closing',
        group: 'music',
        source: { place: 'closing' },
        begins: { after: 'body', gapSeconds: -0.5 },
        level: { integratedLufs: -20 },
        fadeInSeconds: 0.5,
        fadeOutSeconds: 3,
        chapter: 'Closing',
      },
    ],
    under: [{ group: 'music', of: ['voices'], byDb: 10 }],
  }),
];

let made: readonly OrderFile[] | undefined;

/** Patterns to start from: every part is a place, and nothing names a recording. Made when they are first asked for. */
export const shippedPatterns = (): readonly OrderFile[] => {
  made ??= make();
  return made;
};
