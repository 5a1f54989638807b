import { setTimeout as wait } from 'node:timers/promises';
import { Dispatcher, type Work, type WorkSource } from './dispatcher.ts';
import type { JobEnd } from './messages.ts';
import type { WorkerPool } from './worker-pool.ts';

const CANCELLED: JobEnd = { type: 'cancelled' };

/** Threads whose jobs end when the test says so. */
function threads(size: number) {
  const running: ((end: JobEnd) => void)[] = [];
  const pool = {
    get free() {
      return size - running.length;
    },
    run: () => new Promise<JobEnd>((resolve) => running.push(resolve)),
  } as unknown as WorkerPool;
  const endFirst = async () => {
    running.shift()!(CANCELLED);
    await wait(5);
  };
  return { pool, running, endFirst };
}

/** A source of so many pieces of work, and what is told of them. */
function source(name: string, count: number, told: string[], more: Partial<Work> = {}): WorkSource {
  let next = 1;
  return {
    take: async () => {
      if (next > count) return undefined;
      const piece = `${name}${next++}`;
      told.push(`take ${piece}`);
      return {
        job: {} as Work['job'],
        signal: new AbortController().signal,
        progress: () => {},
        end: async () => {
          told.push(`end ${piece}`);
        },
        ...more,
      };
    },
  };
}

it('gives work to free threads only, the first source first, and goes on as threads get free', async () => {
  const told: string[] = [];
  const { pool, running, endFirst } = threads(2);
  const dispatcher = new Dispatcher(pool, [source('a', 1, told), source('b', 3, told)], (error) =>
    told.push(`${error}`),
  );
  dispatcher.nudge();
  dispatcher.nudge();
  await wait(5);
  expect(told).toEqual(['take a1', 'take b1']);
  expect(running).toHaveLength(2);
  await endFirst();
  expect(told).toEqual(['take a1', 'take b1', 'end a1', 'take b2']);
  await endFirst();
  await endFirst();
  expect(told.slice(4)).toEqual(['end b1', 'take b3', 'end b2']);
});

it('tells that work has begun when a thread has it, and reports where that fails, without losing the work', async () => {
  const told: string[] = [];
  const { pool, running, endFirst } = threads(1);
  const begun = async () => {
    told.push(`begun on ${running.length} thread`);
    throw new Error('nobody listens');
  };
  new Dispatcher(pool, [source('a', 1, told, { begun })], (error) => told.push((error as Error).message)).nudge();
  await wait(5);
  await endFirst();
  expect(told).toEqual(['take a1', 'begun on 1 thread', 'nobody listens', 'end a1']);
});

it('reports work that could not be taken, and tries again by itself', async () => {
  const told: string[] = [];
  let full = true;
  const inner = source('a', 1, told);
  const failing: WorkSource = {
    take: async () => {
      if (full) throw new Error('the disk is full');
      return inner.take();
    },
  };
  const { pool } = threads(1);
  new Dispatcher(pool, [failing], (error) => told.push((error as Error).message), 30).nudge();
  await wait(10);
  expect(told).toEqual(['the disk is full']);
  full = false;
  await wait(60);
  expect(told).toEqual(['the disk is full', 'take a1']);
});

it('reports what could not be stored, and the thread takes the next piece', async () => {
  const told: string[] = [];
  const { pool, endFirst } = threads(1);
  const end = async () => {
    throw new Error('not stored');
  };
  new Dispatcher(pool, [source('a', 2, told, { end })], (error) => told.push((error as Error).message)).nudge();
  await wait(5);
  await endFirst();
  expect(told.toSorted()).toEqual(['not stored', 'take a1', 'take a2']);
});

it('stops when what is under way has ended, and takes nothing more', async () => {
  const told: string[] = [];
  const { pool, endFirst } = threads(1);
  const dispatcher = new Dispatcher(pool, [source('a', 5, told)], (error) => told.push(`${error}`));
  dispatcher.nudge();
  await wait(5);
  let stopped = false;
  const stopping = dispatcher.stop().then(() => {
    stopped = true;
  });
  await wait(5);
  expect(stopped).toBe(false);
  await endFirst();
  await stopping;
  dispatcher.nudge();
  await wait(5);
  expect(told).toEqual(['take a1', 'end a1']);
});
