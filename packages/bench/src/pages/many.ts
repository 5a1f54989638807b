import { execFileSync, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from '@playwright/test';
import type { Chain, Recording, Run, Target } from '@tonos/contract';
import { allReady, api, type Named } from '@tonos/e2e/api';
import { Tonos } from '@tonos/e2e/tonos';
import Libsql from 'libsql';
import type { Figure } from './figure.ts';
import { newPage, smoothness } from './frames.ts';

/** Recordings of one title, items of one board, and what else there is. */
const MANY = 5000;
const OTHERS = 5000;
const RUNS = 199;
const LABELLED = 1000;
const TIMES = 7;
const LOOKS = 5;
const CALLS = 40;
const LOADING_MS = 3000;
const LOOP_HOOK = join(import.meta.dirname, 'loop-delay.mjs');

interface Seeds {
  title: string;
  recording: string;
  run: string;
  item: string;
}

/** Ten thousand recordings and two hundred runs, made of one of each where they lie: as if they had come in over years. */
function multiply(folder: string, seeds: Seeds): { otherTitle: string } {
  const database = new Libsql(join(folder, 'data', 'tonos.sqlite'));
  const otherTitle = 'title-other';
  const copy = (table: string, from: string, changes: Record<string, string>, count: number) => {
    const columns = (database.prepare(`PRAGMA table_info("${table}")`).all() as { name: string }[]).map(
      ({ name }) => `"${name}"`,
    );
    const values = columns.map((column) => changes[column.slice(1, -1)] ?? column);
    database.exec(`WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${count})
      INSERT INTO "${table}" (${columns.join(', ')}) SELECT ${values.join(', ')} FROM "${table}", n WHERE id = '${from}'`);
  };
  database.exec('BEGIN');
  copy('title', seeds.title, { id: `'${otherTitle}'`, name: `'The rest'` }, 1);
  const recordings = (prefix: string, title: string, count: number) =>
    copy(
      'recording',
      seeds.recording,
      {
        id: `'${prefix}' || i`,
        takeOf: `'${prefix}' || i`,
        titleId: title,
        name: `'Chapter ' || i || '.wav'`,
        position: 'i + 1',
        createdAt: `strftime('%Y-%m-%dT%H:%M:%fZ', "createdAt", '-' || i || ' hours')`,
      },
      count,
    );
  recordings('own-', '"titleId"', MANY - 1);
  recordings('other-', `'${otherTitle}'`, OTHERS);
  copy('run', seeds.run, { id: `'run-' || i`, titleId: `'${otherTitle}'` }, RUNS);
  copy('run_item', seeds.item, { id: `'item-' || i`, recordingId: `'own-' || i`, position: 'i + 1' }, MANY - 1);
  copy(
    'run_item',
    seeds.item,
    { id: `'older-' || i`, recordingId: `'other-' || i`, runId: `'run-' || (i % ${RUNS} + 1)` },
    OTHERS,
  );
  database.exec('COMMIT');
  database.close();
  // a disk that still has fifty megabytes to write holds up whoever writes a page next
  execFileSync('sync');
  return { otherTitle };
}

const p95 = (times: readonly number[]): number => times.toSorted((a, b) => a - b)[Math.floor(0.95 * times.length)];
const median = (values: readonly number[]): number => values.toSorted((a, b) => a - b)[values.length >> 1];
const milliseconds = (time: number) => `${Math.round(time)} ms`;

async function timed(act: () => Promise<unknown>): Promise<number> {
  const started = performance.now();
  await act();
  return performance.now() - started;
}

/** How long until a page shows rows, by its own clock from the click on; how much came until then, and how smoothly it scrolls. */
async function lookAt(page: Page, address: string, rows: string) {
  let first = 0;
  await page.addInitScript((selector) => {
    const look = () => {
      const rowsAt = document.querySelector(selector) ? performance.now() : undefined;
      // drawn with the frame that it is seen in
      requestAnimationFrame(rowsAt === undefined ? look : () => Object.assign(window, { rowsAt }));
    };
    requestAnimationFrame(look);
  }, rows);
  page.on('response', async (response) => {
    if (!first && /\/api\/(titles\/[^/]+\/recordings|runs\/[^/?]+)(\?|$)/.test(response.url()))
      first = (await response.body().catch(() => Buffer.alloc(0))).length;
  });
  await page.goto(address, { waitUntil: 'commit' });
  // who looks for rows from outside puts its own program into the page, which takes a tenth of the second that is measured
  await page.waitForTimeout(LOADING_MS);
  const rowsAt = await page.waitForFunction(() => (window as { rowsAt?: number }).rowsAt);
  const rowsMs = (await rowsAt.jsonValue())!;
  const bytes = first;
  await page.waitForTimeout(6000);
  const { framesPerSecond, p95Ms } = await smoothness(page, async () => {
    for (let k = 0; k < 60; k++) {
      await page.mouse.wheel(0, 900);
      await page.waitForTimeout(30);
    }
  });
  return { rowsMs, bytes, framesPerSecond, p95Ms };
}

/** A house of ten thousand recordings: pages, calls, a start after a crash, and how long the server's main thread is ever held. */
export async function many(browser: Browser): Promise<Figure[]> {
  const notes = await mkdtemp(join(tmpdir(), 'tonos-loop-'));
  const loopFile = join(notes, 'loop');
  // what the machine itself holds up: a process that has nothing to do
  const idleFile = join(notes, 'idle');
  const idle = spawn(process.execPath, [`--import=${LOOP_HOOK}`, '-e', 'setInterval(() => {}, 1000)'], {
    env: { ...process.env, TONOS_BENCH_LOOP: idleFile },
    stdio: 'inherit',
  });
  const tonos = await Tonos.start({
    demo: false,
    env: { NODE_OPTIONS: `--import=${LOOP_HOOK}`, TONOS_BENCH_LOOP: loopFile },
  });
  try {
    const call = api(tonos);
    const title = await call<Named>('POST', '/titles', { name: 'Everything', kind: 'audiobook' });
    const form = new FormData();
    form.append('files', new File([await readFile(await tonos.voice('0.wav', 20, 1))], '0.wav'));
    await call('POST', `/titles/${title.id}/recordings`, form);
    const [recording] = await allReady<Recording>(call, title.id);
    const chain = await call<Chain>('POST', '/chains', {
      name: 'Plain',
      steps: [{ kind: 'high-pass' }, { kind: 'limiter' }],
    });
    const target = (await call<Target[]>('GET', '/targets')).find(({ name }) => name === 'Podcast, mono')!;
    const wanted = { titleId: title.id, recordingIds: [recording.id], chainId: chain.id, targetId: target.id };
    const finished = async (id: string): Promise<Run> => {
      for (;;) {
        const run = await call<Run>('GET', `/runs/${id}`);
        if (run.status === 'finished') return run;
        await new Promise((resolve) => setTimeout(resolve, 200));
      }
    };
    const run = await finished((await call<Run>('POST', '/runs', wanted)).id);
    await tonos.close();
    multiply(tonos.folder, { title: title.id, recording: recording.id, run: run.id, item: run.items[0].id });
    await tonos.open();
    const figures: Figure[] = [];
    const tell = (figure: Figure) => {
      figures.push(figure);
      console.error(`${figure.what}: ${figure.found}`);
    };

    /** Seconds that were told of the server's main thread, and of the idle process, until now: held at most, of its own doing at most. */
    const seconds = () =>
      [loopFile, idleFile].map((file) =>
        readFileSync(file, 'utf8')
          .trim()
          .split('\n')
          .map((line) => line.split(' ').map(Number)),
      );
    const tellHeld = async (by: string, before: number[][][]) => {
      await new Promise((resolve) => setTimeout(resolve, 1100));
      const [[held, own], [heldIdle]] = seconds().map((all, i) => {
        const since = all.slice(before[i].length);
        return [0, 1].map((column) => {
          const values = since.map((second) => second[column]);
          return `${milliseconds(median(values))}, most ${milliseconds(Math.max(...values))}`;
        });
      });
      tell({
        what: `the server's main thread held up ${by}, at most in a second: median of seconds`,
        wanted: '20 ms',
        found: `${held}; without what it waited for a core ${own}; a process beside it that has nothing to do: ${heldIdle}`,
      });
    };

    // labels, while another tab looks on
    const labelledIds = Array.from({ length: LABELLED }, (_, i) => `own-${i + 1}`);
    const onlooker = await newPage(browser);
    await onlooker.goto(`${tonos.origin}/titles/${title.id}`);
    await onlooker.locator('tbody tr[tabindex]').first().waitFor();
    await onlooker.waitForTimeout(8000);
    const labels: number[] = [];
    const beforeLabels = seconds();
    const seen = await smoothness(onlooker, async () => {
      for (let k = 0; k < TIMES; k++) {
        labels.push(await timed(() => call('PATCH', '/recordings', { ids: labelledIds, speaker: `Reader ${k}` })));
        await onlooker.waitForTimeout(1500);
      }
    });
    await onlooker.close();
    tell({
      what: `${LABELLED} labels changed at once; frames in another tab meanwhile`,
      wanted: '300 ms; 50 ms',
      found: `median of ${TIMES} ${milliseconds(median(labels))}, the first behind a start ${milliseconds(labels[0])}; 95 of 100 in ${milliseconds(seen.p95Ms)}, most ${milliseconds(seen.mostMs)}`,
    });

    await tellHeld('by labels', beforeLabels);
    for (const [what, address, rows] of [
      [`a title of ${MANY}`, `/titles/${title.id}`, 'tbody tr[tabindex]'],
      [`a board of ${MANY}`, `/runs/${run.id}`, 'tr[data-status]'],
    ] as const) {
      const looks: Awaited<ReturnType<typeof lookAt>>[] = [];
      for (let k = 0; k < LOOKS; k++) {
        const page = await newPage(browser);
        looks.push(await lookAt(page, tonos.origin + address, rows));
        await page.close();
      }
      const of = (figure: keyof (typeof looks)[number]) => median(looks.map((look) => look[figure]));
      const each = looks.map(({ rowsMs }) => Math.round(rowsMs)).join(', ');
      tell({
        what: `${what}: first rows, first answer, scrolling; medians of ${LOOKS}`,
        wanted: '1 s, 2 MB, 60 frames',
        found: `${milliseconds(of('rowsMs'))} (${each}), ${(of('bytes') / 1e6).toFixed(2)} MB, ${Math.round(of('framesPerSecond'))} frames (95 of 100 in ${milliseconds(of('p95Ms'))})`,
      });
    }

    // what pages ask for, alone and while two renders run
    const paths = [
      '/today',
      '/titles',
      '/standing',
      '/runs',
      '/chains',
      '/targets',
      `/titles/${title.id}`,
      `/titles/${title.id}/recordings?from=0&count=100`,
      `/titles/${title.id}/standing`,
      `/runs/${run.id}?from=0&count=100`,
      `/recordings/${recording.id}`,
    ];
    const askAll = async (meanwhile: string, asked: readonly string[]) => {
      const before = seconds();
      const calls = new Map(asked.map((path) => [path, [] as number[]]));
      for (let k = 0; k < CALLS; k++)
        for (const path of asked) calls.get(path)!.push(await timed(() => call('GET', path)));
      const slowest = [...calls].map(([path, times]) => ({ path, time: p95(times) })).sort((a, b) => b.time - a.time);
      const all = [...calls.values()].flat();
      tell({
        what: `calls of pages ${meanwhile} (${all.length})`,
        wanted: '95 of 100 in 50 ms',
        found: `95 of 100 in ${milliseconds(p95(all))}; the slowest of each kind: ${slowest
          .slice(0, 4)
          .map(({ path, time }) => `${path.replace(/[0-9a-f]{8}-[0-9a-f-]+/g, 'x')} ${milliseconds(time)}`)
          .join(', ')}`,
      });
      await tellHeld(`by calls of pages ${meanwhile}`, before);
    };

    await askAll('with nothing else to do', paths);
    const lengthy = new FormData();
    for (const seed of [2, 3])
      lengthy.append('files', new File([await readFile(await tonos.voice(`${seed}.wav`, 240, seed))], `${seed}.wav`));
    const busyTitle = await call<Named>('POST', '/titles', { name: 'Busy', kind: 'podcast' });
    await call('POST', `/titles/${busyTitle.id}/recordings`, lengthy);
    const busy = await allReady<Recording>(call, busyTitle.id);
    const noisy = await call<Chain>('POST', '/chains', {
      name: 'Slow',
      steps: ['noise-reduction', 'leveller', 'limiter'].map((kind) => ({ kind })),
    });
    const { id: busyRun } = await call<Run>('POST', '/runs', {
      ...wanted,
      titleId: busyTitle.id,
      recordingIds: busy.map(({ id }) => id),
      chainId: noisy.id,
    });
    await askAll('while two renders run', [...paths, `/runs/${busyRun}`]);

    await tonos.close('SIGKILL');
    tell({
      what: 'ready after a kill, with 10,000 recordings and 200 runs',
      wanted: '5 s',
      found: milliseconds(await timed(() => tonos.open())),
    });
    return figures;
  } finally {
    idle.kill();
    await tonos.remove();
    await rm(notes, { recursive: true });
  }
}
