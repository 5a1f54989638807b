import type { Mark } from '@tonos/contract';
import { caller, checkRole } from '../http/caller.ts';
import { isOnlyNote } from './by-hand.ts';
import type { RecordingEntity } from './recording-entity.ts';
import type { PartKind, Parts } from './recording-parts.ts';

/** Everybody who listens may say something of a place; what renders hang on is for engineers. @throws HttpProblem 403 */
export function checkMayPut<Kind extends PartKind>({ marks }: RecordingEntity, kind: Kind, own: Parts[Kind]): void {
  if (!(kind === 'marks' && saysOnly(own as Mark, marks))) checkRole('engineer', 'mark recordings');
}

/** One's own notes are one's own to take away. @throws HttpProblem 403 */
export function checkMayTake({ marks }: RecordingEntity, kind: PartKind, id: string): void {
  const isOwn = (mark: Mark) => mark.id === id && isOnlyNote(mark) && mark.note?.by === caller().name;
  if (!(kind === 'marks' && marks.some(isOwn))) checkRole('engineer', 'take marks away');
}

/** Whether a mark says something, and changes nothing else of what stands. */
function saysOnly(mark: Mark, marks: readonly Mark[]): boolean {
  const stands = marks.find(({ id }) => id === mark.id);
  if (!stands) return isOnlyNote(mark);
  const bare = ({ note: _, ...rest }: Mark) => JSON.stringify(Object.entries(rest).sort());
  return mark.note !== undefined && bare(stands) === bare(mark);
}
