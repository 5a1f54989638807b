import { ClaimEntity } from '../jobs/claim-entity.ts';
import { WorkerTokenEntity } from '../machines/worker-token-entity.ts';
import { RunEntity } from '../runs/run-entity.ts';
import { OwnDatabase } from '../testing/own-database.ts';
import { deleteRows, findRow, findRowOrFail, insertRow, updateRows } from './rows.ts';

/** The same rows, whether they are asked for by hand or by the mapper. */

const own = OwnDatabase.forEach();
const claim = {
  kind: 'render',
  subjectId: 'r',
  itemIds: ['a', 'b'],
  titleId: 't',
  payload: { kind: 'measure' as const, name: 'Größe "x"', sha256: 'f'.repeat(64) },
  machineId: null,
  leasedUntil: null,
  claimedAt: '2026-11-01T00:00:00.000Z',
};
const inserted = () => own.database.transaction((manager) => insertRow(manager, ClaimEntity, claim));

it('what is inserted by hand is what the mapper reads, under a number that is never given twice', async () => {
  expect([await inserted(), await inserted()]).toEqual([1, 2]);
  const { payload, ...light } = claim;
  const claims = own.database.of(ClaimEntity);
  expect(await claims.findOneByOrFail({ fence: 1 })).toEqual({ fence: 1, ...light });
  expect(await own.database.find(ClaimEntity, { fence: 1 })).toEqual({ fence: 1, ...light });
  expect(await own.database.find(ClaimEntity, { fence: 1, machineId: null }, ['payload'])).toEqual({
    fence: 1,
    ...claim,
  });
  expect(await own.database.find(ClaimEntity, { fence: 1, machineId: 'm' })).toBeNull();
  expect(await own.database.transaction((manager) => deleteRows(manager, ClaimEntity, { fence: 2 }))).toBe(1);
  expect(await inserted()).toBe(3);
});

it('changes what it names in the rows that are meant, and says in how many', async () => {
  await inserted();
  await inserted();
  await own.database.transaction(async (manager) => {
    const change = (where: Partial<ClaimEntity>, laid: Partial<ClaimEntity>) =>
      updateRows(manager, ClaimEntity, where, laid);
    expect(await change({ fence: 2 }, { machineId: 'm', itemIds: [], payload: null, titleId: undefined })).toBe(1);
    expect(await change({ machineId: null }, { leasedUntil: 'later' })).toBe(1);
    expect(await change({ fence: 9 }, { machineId: 'm' })).toBe(0);
    expect(await findRowOrFail(manager, ClaimEntity, { machineId: 'm' }, ['payload'])).toEqual({
      ...{ ...claim, fence: 2 },
      ...{ machineId: 'm', itemIds: [], payload: null },
    });
    expect(await findRow(manager, ClaimEntity, { leasedUntil: 'later' })).toMatchObject({ fence: 1 });
    // a condition that is not said falls away nowhere
    await expect(change({ machineId: undefined, kind: 'render' }, { titleId: 'x' })).rejects.toThrow('machineId');
    await expect(findRow(manager, ClaimEntity, {})).rejects.toThrow('not said');
    await expect(findRowOrFail(manager, WorkerTokenEntity, { id: 'x' })).rejects.toThrow('worker_token');
  });
});

it('truth is truth in both', async () => {
  await own.change(`INSERT INTO "title" ("id", "name", "kind", "createdAt") VALUES ('t', 'T', 'podcast', 'd')`);
  await own.change(
    `INSERT INTO "target" ("id", "name", "shipped", "file", "createdAt") VALUES ('g', 'G', 1, '{}', 'd')`,
  );
  await own.change(
    `INSERT INTO "run" ("id", "titleId", "targetId", "revision", "status", "createdAt", "priority", "paused") VALUES ('r', 't', 'g', 1, 'working', 'd', 0, 1)`,
  );
  const run = await own.database.of(RunEntity).findOneByOrFail({ id: 'r' });
  expect(run.paused).toBe(true);
  expect(await own.database.find(RunEntity, { paused: true })).toEqual({ ...run });
  await own.database.transaction((manager) => updateRows(manager, RunEntity, { id: 'r' }, { paused: false }));
  expect((await own.database.of(RunEntity).findOneByOrFail({ id: 'r' })).paused).toBe(false);
});
