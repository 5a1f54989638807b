import type { Machine, Machines } from '@tonos/contract';

/** What stands in the column of states. */
export const STATE_WORDS: Readonly<Record<Machine['state'], string>> = {
  working: 'working',
  resting: 'ready',
  draining: 'draining',
  refused: 'gets no work',
  lost: 'lost',
};

/** One that has a reason not to work is not simply ready. */
export const stateText = ({ state, reason }: Pick<Machine, 'state' | 'reason'>): string =>
  state === 'resting' && reason !== null ? 'rests' : STATE_WORDS[state];

const count = (n: number, one: string): string => `${n} ${n === 1 ? one : `${one}s`}`;

/** Whether there is nobody who would take work. */
export const isDeserted = ({ here, machines }: Pick<Machines, 'here' | 'machines'>): boolean =>
  here.threads === 0 && machines.every(({ state }) => state !== 'working' && state !== 'resting');

/** What is under way and what waits, in one line. */
export function underWayText({ machines, here, waiting, queue }: Machines): string {
  const all = [here, ...machines];
  const busy = all.reduce((sum, { doing, measuring }) => sum + doing.length + measuring, 0);
  const texts = [busy ? `${count(busy, 'recording')} under way` : 'nothing is under way'];
  if (waiting) texts.push(`${waiting} waiting`);
  if (queue.kind === 'redis') texts.push(queue.status === 'ready' ? 'the queue is ready' : 'the queue is away');
  const text = texts.join(' \u00b7 ');
  return text.charAt(0).toUpperCase() + text.slice(1);
}
