import type { Run } from '@tonos/contract';
import type { Progress } from '../../api/progress-slice.ts';

export interface RunProgress {
  /** 0 to 1, by the length of the recordings. */
  share: number;
  secondsLeft: number | null;
  /** Seconds of sound a second. */
  speed: number | null;
}

const OPEN = ['queued', 'working'];

/** How far a run has come, and how long what is open will take at the pace so far. */
export function runProgress(run: Run, progress: Readonly<Record<string, Progress>>, nowMs: number): RunProgress {
  const lengthOf = (item: Run['items'][number]) => item.before?.durationSeconds ?? 1;
  const total = run.items.reduce((sum, item) => sum + lengthOf(item), 0);
  const done = run.items.reduce((sum, item) => {
    if (item.status === 'working') return sum + lengthOf(item) * (progress[item.id]?.share ?? 0);
    return sum + (item.status === 'queued' ? 0 : lengthOf(item));
  }, 0);
  const share = total ? done / total : 1;
  const open = run.items.some(({ status }) => OPEN.includes(status));
  const seconds = run.startedAt ? (nowMs - Date.parse(run.startedAt)) / 1000 : 0;
  if (!open || seconds < 2 || share < 0.02) return { share, secondsLeft: null, speed: null };
  return { share, secondsLeft: (seconds * (1 - share)) / share, speed: done / seconds };
}
