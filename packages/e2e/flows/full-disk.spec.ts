import { readdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { api, startedRun } from './api.ts';
import { Tonos } from './tonos.ts';

/** Room for the reserve that a run asks for, and some more. */
const DISK_MEGABYTES = 420;

test('a disk that fills in the middle of a run fails what needed room, in words; with room again everything finishes', async () => {
  const tonos = await Tonos.start({ demo: false, diskMegabytes: DISK_MEGABYTES });
  try {
    const call = api(tonos);
    const { titleId, runId, now } = await startedRun(tonos, 'A full shelf', 6, 30);
    await expect.poll(async () => (await now()).counts.within).toBeGreaterThan(0);

    const ballast = join(tonos.dataSeenFromHere, 'ballast');
    await writeFile(ballast, Buffer.alloc(DISK_MEGABYTES * 1024 * 1024)).catch((error) => {
      expect(error.code).toBe('ENOSPC');
    });
    await expect.poll(async () => (await now()).counts.failed, { timeout: 60_000 }).toBeGreaterThan(0);
    const full = await now();
    for (const item of full.items.filter(({ status }) => status === 'failed'))
      expect(item.error).toMatchObject({ code: 'disk-full', message: expect.stringContaining('make room') });
    const upload = new FormData();
    upload.append('files', new File([new Uint8Array(100_000_000)], 'more.wav'));
    const refused = await fetch(`${tonos.origin}/api/titles/${titleId}/recordings`, { method: 'POST', body: upload });
    expect(refused.status).toBe(507);
    expect(await refused.json()).toMatchObject({ code: 'disk-full' });

    await rm(ballast);
    await expect.poll(async () => (await now()).status, { timeout: 60_000 }).toBe('finished');
    await call('POST', `/runs/${runId}/retry`, {});
    await expect.poll(async () => (await now()).counts.within, { timeout: 120_000 }).toBe(6);
    const finished = await now();
    expect(finished.status).toBe('finished');
    full.items.forEach((item, i) => {
      if (item.status === 'within') expect(finished.items[i].output!.sha256).toBe(item.output!.sha256);
    });
    for (const name of ['tmp', 'spool']) expect(await readdir(join(tonos.dataSeenFromHere, name))).toEqual([]);
  } finally {
    await tonos.remove();
  }
});
