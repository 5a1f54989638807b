import { LibsqlConnection } from '../database/libsql-driver.ts';
import { problemOf } from '../http/problems.ts';
import { diskTrouble, insist, isDiskFull } from './disk-trouble.ts';

const fault = (code: string, cause?: unknown) => Object.assign(new Error(code, { cause }), { code });

it.each([
  ['a full disk', fault('ENOSPC'), true],
  ['a quota', fault('EDQUOT'), true],
  ['the database', fault('SQLITE_FULL'), true],
  ['a full disk beneath another fault', fault('QueryFailed', fault('ENOSPC')), true],
  ['another fault', fault('EIO'), false],
  ['another fault beneath one', fault('QueryFailed', fault('EIO')), false],
  ['nothing that is a fault', 'ENOSPC', false],
])('%s: %s', (_, error, full) => {
  expect(isDiskFull(error)).toBe(full);
});

it('a disk that can only be read is told of as what it is', () => {
  const database = new LibsqlConnection(':memory:', {});
  database.exec('CREATE TABLE one (id)');
  database.pragma('query_only = 1');
  const refused = () => {
    try {
      return database.prepare('INSERT INTO one VALUES (1)').run();
    } catch (error) {
      return error;
    } finally {
      database.close();
    }
  };
  for (const error of [refused(), fault('EROFS'), fault('QueryFailed', fault('EROFS'))])
    expect(problemOf(error)).toMatchObject({
      status: 507,
      code: 'disk-read-only',
      detail: expect.stringContaining('can only be read'),
    });
  expect(problemOf(fault('ENOSPC'))).toMatchObject({ status: 507, code: 'disk-full' });
  expect(diskTrouble(fault('EIO'))).toBeUndefined();
});

it('insists while the disk is full, and gives what came of it', async () => {
  let tries = 0;
  const change = async () => {
    if (++tries < 2) throw fault('ENOSPC');
    return 'done';
  };
  const told: unknown[] = [];
  expect(await insist(change, new AbortController().signal, (error) => told.push(error))).toBe('done');
  expect(tries).toBe(2);
  expect(told).toEqual([]);
});

it('P3: insists on what fails for another reason too, and tells of it', async () => {
  let tries = 0;
  const change = async () => {
    if (++tries < 2) throw fault('EIO');
    return 'done';
  };
  const told: unknown[] = [];
  expect(await insist(change, new AbortController().signal, (error) => told.push(error))).toBe('done');
  expect(told).toMatchObject([{ code: 'EIO' }]);
});

it('gives up at once where nobody waits any more, though it has waited already', async () => {
  const stopped = new AbortController();
  let tries = 0;
  const change = async () => {
    tries++;
    setTimeout(() => stopped.abort(), 20);
    throw fault('ENOSPC');
  };
  const started = performance.now();
  await expect(insist(change, stopped.signal, () => {})).rejects.toMatchObject({ code: 'ENOSPC' });
  expect(performance.now() - started).toBeLessThan(1500);
  expect(tries).toBe(2);
});
