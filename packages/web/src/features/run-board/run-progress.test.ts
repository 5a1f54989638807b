import type { Run, RunItem } from '@tonos/contract';
import { runProgress } from './run-progress.ts';

const item = (id: string, status: RunItem['status'], durationSeconds: number) =>
  ({ id, status, before: { durationSeconds } }) as RunItem;
const START = Date.parse('2026-01-01T00:00:00Z');

it('tells the time left from the length done so far: 60 of 120 s in 10 s leaves 10 s, at 6 times real time', () => {
  const run = {
    startedAt: '2026-01-01T00:00:00Z',
    items: [item('a', 'within', 30), item('b', 'working', 60), item('c', 'queued', 30)],
  } as Run;
  const progress = { b: { share: 0.5, stage: '', secondsLeft: null } };
  expect(runProgress(run, progress, START + 10_000)).toEqual({ share: 0.5, secondsLeft: 10, speed: 6 });
});

it('tells nothing of the time left where nothing is open', () => {
  const run = { startedAt: '2026-01-01T00:00:00Z', items: [item('a', 'failed', 30)] } as Run;
  expect(runProgress(run, {}, START + 10_000)).toEqual({ share: 1, secondsLeft: null, speed: null });
});
