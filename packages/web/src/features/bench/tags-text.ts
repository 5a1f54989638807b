import type { Recording } from '@tonos/contract';
import { clock } from '../../ui/time.ts';

/** What the file says of itself, in one line that ends in a separator; nothing where it says nothing. */
export function tagsText({
  title,
  artist,
  track,
  description,
  originator,
  timeReferenceSeconds,
  scene,
  take,
}: Recording['tags']): string {
  const parts = [
    track === undefined ? undefined : `track ${track}`,
    title && `\u201c${title}\u201d`,
    artist,
    description,
    originator && `from ${originator}`,
    timeReferenceSeconds === undefined ? undefined : `begins at ${clock(timeReferenceSeconds, 2)}`,
    scene && `scene ${scene}`,
    take && `take ${take}`,
  ];
  return parts
    .filter(Boolean)
    .map((part) => `${part} \u00b7 `)
    .join('');
}
