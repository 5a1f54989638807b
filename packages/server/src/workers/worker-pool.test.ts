import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Dispatcher, type Work } from './dispatcher.ts';
import type { JobEnd } from './messages.ts';
import { WorkerPool } from './worker-pool.ts';

/** A thread whose jobs do what their name says. */
const OBEDIENT = `
import { parentPort } from 'node:worker_threads';
let stop;
parentPort.on('message', (message) => {
  if (message.type === 'cancel') return stop?.();
  const { name } = message.job;
  if (name === 'finish') parentPort.postMessage({ type: 'failed', error: { code: 'done', message: name } });
  if (name === 'die') process.exit(3);
  if (name === 'throw') throw new Error('out of order');
  if (name === 'hang') while (true);
  if (name === 'wait') stop = () => parentPort.postMessage({ type: 'cancelled' });
  if (name === 'finish-and-die') {
    parentPort.postMessage({ type: 'failed', error: { code: 'done', message: name } });
    setTimeout(() => process.exit(4), 50);
  }
  if (name === 'tell') {
    parentPort.postMessage({ type: 'progress', share: 0.5, stage: 'half' });
    parentPort.postMessage({ type: 'failed', error: { code: 'done', message: name } });
  }
});`;

let folder: string;
let pool: WorkerPool;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-pool-'));
  await writeFile(join(folder, 'worker.mjs'), OBEDIENT);
});
afterAll(() => rm(folder, { recursive: true }));
beforeEach(() => {
  pool = new WorkerPool(2, pathToFileURL(join(folder, 'worker.mjs')));
});
afterEach(() => pool.close());

const jobOf = (
  name: string,
  signal = new AbortController().signal,
  progress: (share: number, stage: string) => void = () => {},
) => [{ type: 'measure', path: '', name, surveyPath: '', copyPath: '' } as const, { signal, progress }] as const;
const run = (...asked: Parameters<typeof jobOf>) => pool.run(...jobOf(...asked));

it('uses a thread again and again', async () => {
  for (let i = 0; i < 5; i++) expect(await run('finish')).toMatchObject({ error: { code: 'done' } });
  expect(pool.free).toBe(2);
});

it('P15: a thread that dies while it has nothing to do gets no next job', async () => {
  expect(await run('finish-and-die')).toMatchObject({ error: { code: 'done' } });
  await new Promise((resolve) => setTimeout(resolve, 2500));
  expect(await run('finish')).toMatchObject({ error: { code: 'done' } });
});

it('passes progress on', async () => {
  const heard: [number, string][] = [];
  await run('tell', undefined, (share, stage) => heard.push([share, stage]));
  expect(heard).toEqual([[0.5, 'half']]);
});

it('fails the job of a thread that hangs, and goes on with another', async () => {
  const watched = new WorkerPool(1, pathToFileURL(join(folder, 'worker.mjs')), { quietMs: 1500 });
  expect(await watched.run(...jobOf('hang'))).toMatchObject({
    type: 'failed',
    error: { code: 'worker-died', message: expect.stringContaining('hangs') },
  });
  expect(await watched.run(...jobOf('finish'))).toMatchObject({ error: { code: 'done' } });
  await watched.close();
});

it.each(['die', 'throw'])('fails the job of a thread that comes to %s, and goes on with another', async (name) => {
  expect(await run(name)).toMatchObject({
    type: 'failed',
    error: { code: 'worker-died', message: expect.stringContaining(name) },
  });
  expect(await run('finish')).toMatchObject({ error: { code: 'done' } });
  expect(pool.free).toBe(2);
});

it('cancels a job that listens, and one that does not', async () => {
  for (const name of ['wait', 'hang']) {
    const controller = new AbortController();
    const end = run(name, controller.signal);
    setTimeout(() => controller.abort(), 100);
    expect(await end).toEqual({ type: 'cancelled' });
  }
  expect(await run('finish')).toMatchObject({ error: { code: 'done' } });
});

describe('Dispatcher', () => {
  /** Waits for what is to come, and a moment longer for what is not. */
  const settled = async (isDone: () => boolean) => {
    for (let waits = 0; waits < 100 && !isDone(); waits++) await new Promise((resolve) => setTimeout(resolve, 100));
    await new Promise((resolve) => setTimeout(resolve, 100));
  };

  it('takes from the first source first, and never more than there are threads', async () => {
    const ended: string[] = [];
    let busiest = 0;
    let busy = 0;
    const source = (...names: string[]) => ({
      take: async (): Promise<Work | undefined> => {
        const name = names.shift();
        if (!name) return undefined;
        busiest = Math.max(busiest, ++busy);
        const end = async (_: JobEnd) => {
          busy--;
          ended.push(name);
        };
        return {
          job: { type: 'measure', path: '', name: 'finish', surveyPath: '', copyPath: '' },
          signal: new AbortController().signal,
          progress: () => {},
          end,
        };
      },
    });
    const dispatcher = new Dispatcher(pool, [source('a', 'b', 'c'), source('d', 'e')], () => {});
    dispatcher.nudge();
    await settled(() => ended.length >= 5);
    expect(ended.sort()).toEqual(['a', 'b', 'c', 'd', 'e']);
    expect(busiest).toBeLessThanOrEqual(3); // a thread is free again while the last result is being stored
    await dispatcher.stop();
  });

  it('reports what goes wrong in storing a result, and goes on', async () => {
    const errors: unknown[] = [];
    let taken = 0;
    const source = {
      take: async (): Promise<Work | undefined> => {
        if (taken++ > 1) return undefined;
        return {
          job: { type: 'measure', path: '', name: 'finish', surveyPath: '', copyPath: '' },
          signal: new AbortController().signal,
          progress: () => {},
          end: () => Promise.reject(new Error('disk full')),
        };
      },
    };
    const dispatcher = new Dispatcher(pool, [source], (error) => errors.push(error));
    dispatcher.nudge();
    await settled(() => errors.length >= 2);
    expect(errors).toMatchObject([{ message: 'disk full' }, { message: 'disk full' }]);
    await dispatcher.stop();
  });
});
