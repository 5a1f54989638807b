import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { Database } from '../database/database.ts';
import { realSurroundings } from '../surroundings.ts';
import type { JobKind } from './job-kind.ts';
import { JobStore, LEASE_MS } from './job-store.ts';

/** Claims over a made-up kind of work: who holds what, by a clock of the test's own. */

const A = { id: 'a', name: 'A' };
const B = { id: 'b', name: 'B' };
const END = async () => ({ end: { type: 'cancelled' as const }, made: [], seconds: 1 });

let folder: string;
let database: Database;
let clockMs: number;
/** What waits, and what was written of it. */
let waiting: string[];
let written: string[];
/** What somebody still wants. */
let wanted: (id: string) => boolean;
let store: JobStore;

const kind: JobKind = {
  kind: 'measure',
  leadsOn: true,
  next: async () => waiting[0],
  hold: async (_, id) => {
    waiting.splice(waiting.indexOf(id), 1);
    return {
      subjectId: id,
      itemIds: [],
      titleId: 't',
      payload: { kind: 'measure', name: id, sha256: `file of ${id}` },
    };
  },
  isWanted: async ({ subjectId }) => wanted(subjectId),
  keep: async ({ subjectId }) => ({
    write: async () => {
      written.push(subjectId);
    },
  }),
  release: async (_, { subjectId }) => {
    waiting.push(subjectId);
  },
  recover: async () => {},
  waiting: async () => waiting.length,
  progress: () => {},
  publish: async () => {},
};
const open = () =>
  new JobStore({
    database,
    kinds: [kind],
    surroundings: { ...realSurroundings, now: () => new Date(clockMs).toISOString() },
    report: (error) => {
      throw error;
    },
    nudge: () => {},
    sweepMs: 20,
  });
/** Lets time go by as it does: in small steps. */
const later = async (ms: number) => {
  for (let done = 0; done < ms; done += 4000) {
    clockMs += Math.min(4000, ms - done);
    await wait(60);
  }
};
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-jobs-'));
  database = await Database.open(folder);
  clockMs = Date.parse('2026-11-30T02:00:00Z');
  [waiting, written, wanted] = [['one', 'two', 'three'], [], () => true];
  store = open();
  await store.recover(() => true);
});
afterEach(async () => {
  store.stop();
  await wait(60);
  await database.close();
  await rm(folder, { recursive: true });
});

it('gives each piece once, under numbers that grow and are never given again', async () => {
  const taken = [await store.claim(A), await store.claim(B), await store.claim(null)];
  expect(taken.map((one) => one?.claim.subjectId)).toEqual(['one', 'two', 'three']);
  expect(await store.claim(A)).toBeUndefined();
  const fences = taken.map((one) => one!.claim.fence);
  expect(fences).toEqual(fences.toSorted((a, b) => a - b));
  await store.release('a', fences[0]);
  expect((await store.claim(B))!.claim.fence).toBeGreaterThan(Math.max(...fences));
});

it('only who holds the number settles; what comes late, or from another, is refused and writes nothing', async () => {
  const { claim } = (await store.claim(A))!;
  expect(await store.settle('b', claim.fence, END)).toBe(false);
  await store.release('a', claim.fence);
  expect(await store.settle('a', claim.fence, END)).toBe(false);
  expect(written).toEqual([]);
  const again = (await store.claim(B))!;
  const both = await Promise.all([1, 2].map(() => store.settle('b', again.claim.fence, END)));
  expect(both.sort()).toEqual([false, true]);
  expect(written).toHaveLength(1);
});

it('a lease that runs out goes back; one that is renewed stays; this process needs none', async () => {
  const [lost, kept, own] = [(await store.claim(A))!, (await store.claim(B))!, (await store.claim(null))!];
  await later(LEASE_MS / 2);
  // A is heard, but does not name what it was given: the answer never reached it
  await store.renew('a', []);
  await store.renew('b', [kept.claim.fence]);
  await later(LEASE_MS / 2 + 4000);
  expect(waiting).toEqual(['one']);
  expect(await store.settle('a', lost.claim.fence, END)).toBe(false);
  expect(await store.settle('b', kept.claim.fence, END)).toBe(true);
  expect(await store.settle(null, own.claim.fence, END)).toBe(true);
});

it('says what nobody wants any more, and what is void', async () => {
  const [one, two] = [(await store.claim(A))!.claim.fence, (await store.claim(A))!.claim.fence];
  wanted = (id) => id !== 'one';
  expect((await store.renew('a', [one, two, 999])).ended).toEqual([one, 999]);
});

it('after a start machines have a full term, and what the process before had waits again', async () => {
  const own = (await store.claim(null))!.claim;
  const far = (await store.claim(A))!.claim;
  const old = (await store.claim(B))!.claim;
  store.stop();
  // away for an hour
  clockMs += 3_600_000;
  store = open();
  await store.recover((id) => id === 'a');
  expect(waiting.sort()).toEqual(['one', 'three']);
  await later(LEASE_MS - 4000);
  await store.renew('a', [far.fence]);
  expect(await store.settle('a', far.fence, END)).toBe(true);
  for (const [id, fence] of [
    [null, own.fence],
    ['b', old.fence],
  ] as const)
    expect(await store.settle(id, fence, END)).toBe(false);
});

it('a machine that slept gives every lease a full term, since nobody could renew', async () => {
  const { claim } = (await store.claim(A))!;
  clockMs += 8 * 3_600_000;
  await wait(100);
  expect((await store.of('a')).map(({ fence }) => fence)).toEqual([claim.fence]);
  await later(LEASE_MS + 4000);
  expect(await store.of('a')).toEqual([]);
});

it('work that comes up while it is looked for is not forgotten', async () => {
  waiting = [];
  const claiming = store.claim(A);
  store.noteWork();
  expect(await claiming).toBeUndefined();
  expect(store.mayWait).toBe(true);
  await store.claim(A);
  expect(store.mayWait).toBe(false);
});

it('knows which files belong to what a machine has', async () => {
  const { claim } = (await store.claim(A))!;
  expect(await store.isReadBy('a', 'file of one')).toBe(true);
  expect(await store.isReadBy('a', 'file of two')).toBe(false);
  expect(await store.isReadBy('b', 'file of one')).toBe(false);
  await store.settle('a', claim.fence, END);
  expect(await store.isReadBy('a', 'file of one')).toBe(false);
});
