import { setTimeout as wait } from 'node:timers/promises';
import type { Job, JobEnd } from './messages.ts';
import { OneAtATime } from './one-at-a-time.ts';
import type { WorkerPool } from './worker-pool.ts';

/** A thread that notes what it is given, and ends when the test says so, or when it is stopped. */
function thread() {
  const told: string[] = [];
  let end: ((how: JobEnd) => void) | undefined;
  const pool = {
    run: (job: Job & { name: string }, { signal }: { signal: AbortSignal }) =>
      new Promise<JobEnd>((resolve) => {
        told.push(job.name);
        end = resolve;
        signal.addEventListener('abort', () => {
          told.push(`${job.name} stopped`);
          resolve({ type: 'cancelled' });
        });
      }),
  } as unknown as WorkerPool;
  const finish = async () => {
    end!({ type: 'failed', error: { code: 'damaged', message: 'It is damaged.' } });
    await wait(1);
  };
  return { told, finish, queue: new OneAtATime(pool) };
}

const job = (name: string) => ({ name }) as unknown as Job;

it('runs one after the other, in the order of asking, also after one that failed', async () => {
  const { told, finish, queue } = thread();
  const wanted = new AbortController().signal;
  const ends = ['a', 'b', 'c'].map((name) => queue.run(job(name), { wanted }));
  await wait(1);
  expect(told).toEqual(['a']);
  await finish();
  expect(told).toEqual(['a', 'b']);
  await finish();
  await finish();
  expect((await Promise.all(ends)).map(({ type }) => type)).toEqual(['failed', 'failed', 'failed']);
  expect(told).toEqual(['a', 'b', 'c']);
});

it('leaves out what nobody waits for any more before it has begun', async () => {
  const { told, finish, queue } = thread();
  const left = new AbortController();
  const first = queue.run(job('a'), { wanted: new AbortController().signal });
  const second = queue.run(job('b'), { wanted: left.signal });
  await wait(1);
  left.abort();
  await finish();
  expect([(await first).type, (await second).type]).toEqual(['failed', 'cancelled']);
  expect(told).toEqual(['a']);
});

it('does not find out again what has become known while it waited', async () => {
  const { told, finish, queue } = thread();
  const wanted = new AbortController().signal;
  const ends: JobEnd[] = [];
  const first = queue.run(job('a'), { wanted }).then((end) => ends.push(end));
  const second = queue.run(job('a'), { wanted, known: () => ends[0] });
  await wait(1);
  await finish();
  await first;
  expect(await second).toBe(ends[0]);
  expect(told).toEqual(['a']);
});

it.each([
  [true, ['long', 'long stopped', 'next']],
  [false, ['long']],
])('what has begun is stopped only where that is asked for: %s', async (stops, expected) => {
  const { told, queue } = thread();
  const left = new AbortController();
  void queue.run(job('long'), { wanted: left.signal, stops });
  void queue.run(job('next'), { wanted: new AbortController().signal });
  await wait(1);
  left.abort();
  await wait(1);
  expect(told).toEqual(expected);
});
