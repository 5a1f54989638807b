import { mkdtemp, open, rm, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { LONG_LOG_BYTES, WriteAheadLog } from './write-ahead-log.ts';

it('whoever writes while the disk is at work waits for a turn that began later, and shares it', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'tonos-log-'));
  const path = join(folder, 'log');
  await writeFile(path, 'written');
  // what can't be opened once is opened by the next
  const late = new WriteAheadLog(join(folder, 'late'), async () => {});
  await expect(late.synced()).rejects.toThrow('ENOENT');
  await writeFile(join(folder, 'late'), 'written');
  await late.synced();
  await late.close();
  const own = await open(path);
  const disk = Object.getPrototypeOf(own) as { datasync(): Promise<void> };
  const { datasync } = disk;
  const turns: (() => void)[] = [];
  disk.datasync = () => new Promise((resolve) => turns.push(resolve));
  const turn = async (count: number) => {
    while (turns.length < count) await new Promise(setImmediate);
  };
  let checkpoints = 0;
  const log = new WriteAheadLog(path, async () => void checkpoints++);
  const kept: number[] = [];
  const write = (change: number) => log.synced().then(() => kept.push(change));
  try {
    const changes = [write(1)];
    await turn(1);
    changes.push(write(2), write(3));
    turns[0]();
    await turn(2);
    // the disk was at work on what stood before
    expect(kept).toEqual([1]);
    changes.push(write(4));
    turns[1]();
    await turn(3);
    expect(kept).toEqual([1, 2, 3]);
    turns[2]();
    await Promise.all(changes);
    expect(kept).toEqual([1, 2, 3, 4]);
    expect(turns).toHaveLength(3);
    // a disk that fails is said, and tried again by the next
    disk.datasync = () => Promise.reject(new Error('The disk is gone'));
    await expect(log.synced()).rejects.toThrow('The disk is gone');
    disk.datasync = datasync;
    await log.synced();
    // what is long is taken over at once
    expect(checkpoints).toBe(0);
    await truncate(path, LONG_LOG_BYTES + 1);
    await log.synced();
    expect(checkpoints).toBe(1);
  } finally {
    disk.datasync = datasync;
    await log.close();
    await own.close();
    await rm(folder, { recursive: true });
  }
});
