import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Chain, Recording, Run, Target, WorkerTokenMade } from '@tonos/contract';
import { allReady, api, type Named } from '@tonos/e2e/api';
import { Tonos } from '@tonos/e2e/tonos';
import { type Figure, figureTable } from './pages/figure.ts';
import { writeVoices } from './write-voices.ts';

/**
 * `npm run bench -- machines`: what machines that work along come to, and what they cost the server. A number after it: so many items in the
 * trial by kills, a thousand otherwise.
 */
const LONG = { count: 24, seconds: 60 };
const SHORT_SECONDS = 5;
const SHORT_ITEMS = 200;
const QUEUE_PORT = 6399;

/** Workers of one thread each. */
class Workers {
  private readonly running: ChildProcess[] = [];

  constructor(
    private readonly tonos: Tonos,
    private readonly token: string,
  ) {}

  begin(k: number): void {
    const env = { TONOS_QUEUE: `redis://127.0.0.1:${QUEUE_PORT}` };
    this.running[k] = this.tonos.worker(`worker ${k + 1}`, this.token, env);
  }

  end(k: number, signal: NodeJS.Signals = 'SIGTERM'): Promise<unknown> {
    const ended = new Promise((resolve) => this.running[k].once('exit', resolve));
    this.running[k].kill(signal);
    return ended;
  }
}

export async function machines(killedItems: number): Promise<void> {
  const redis = spawn('redis-server', ['--port', String(QUEUE_PORT), '--save', ''], { stdio: 'ignore' });
  const env = { TONOS_LOCAL_THREADS: '0', TONOS_QUEUE: `redis://127.0.0.1:${QUEUE_PORT}` };
  const tonos = await Tonos.start({ demo: false, inbox: true, env });
  try {
    const call = api(tonos);
    const { token } = await call<WorkerTokenMade>('POST', '/worker-tokens', { name: 'bench' });
    const workers = new Workers(tonos, token);
    const steps = ['high-pass', 'compressor', 'limiter'].map((kind) => ({ id: kind, kind, settings: {} }));
    const chain = await call<Chain>('POST', '/chains', { format: 'tonos.chain/1', name: 'Voice', steps });
    const target = (await call<Target[]>('GET', '/targets')).find(({ name }) => name === 'Podcast, mono')!;

    const bringIn = async (name: string, voices: { count: number; seconds: number }) => {
      const files = await writeVoices(join(tonos.folder, 'inbox', name), voices);
      const title = await call<Named>('POST', '/titles', { name, kind: 'podcast' });
      for (let at = 0; at < files.length; at += 500)
        await call('POST', `/titles/${title.id}/recordings/from-folder`, {
          path: name,
          files: files.slice(at, at + 500),
        });
      const recordings = await allReady<Recording>(call, title.id);
      return { titleId: title.id, recordingIds: recordings.map(({ id }) => id) };
    };
    /** Runs all of a title. @returns seconds, and processor seconds of the server */
    const run = async (
      of: { titleId: string; recordingIds: string[] },
      during: () => Promise<void> = async () => {},
    ) => {
      const cpuBefore = tonos.cpuSeconds();
      const started = performance.now();
      const { id } = await call<Run>('POST', '/runs', { ...of, chainId: chain.id, targetId: target.id });
      await during();
      for (;;) {
        await wait(500);
        const [{ status, counts }] = (await call<Run[]>('GET', '/runs')).filter((one) => one.id === id);
        if (status !== 'finished') continue;
        if (counts.failed || counts.within + counts['off-target'] !== of.recordingIds.length)
          throw new Error(`Not all came out: ${JSON.stringify(counts)}`);
        return { seconds: (performance.now() - started) / 1000, cpu: tonos.cpuSeconds() - cpuBefore };
      }
    };

    workers.begin(0);
    const long = await bringIn('Long ones', LONG);
    const one = await run(long);
    workers.begin(1);
    await wait(2000);
    const two = await run(long);
    const short = await bringIn('Short ones', { count: SHORT_ITEMS, seconds: SHORT_SECONDS });
    const cost = await run(short);
    workers.begin(2);
    const many = await bringIn('Many', { count: killedItems, seconds: SHORT_SECONDS });
    const calm = await run(many);
    const killed = await run(many, async () => {
      for (const k of [0, 1, 2]) {
        await wait(Math.random() * calm.seconds * 300);
        await workers.end(k, 'SIGKILL');
        workers.begin(k);
      }
    });
    for (const k of [0, 1, 2]) await workers.end(k);

    const figures: Figure[] = [
      {
        what: `${LONG.count} items of ${LONG.seconds} s: two workers of one thread over one`,
        wanted: '1.85 x',
        found: `${(one.seconds / two.seconds).toFixed(2)} x (${one.seconds.toFixed(1)} s, ${two.seconds.toFixed(1)} s)`,
      },
      {
        what: 'the server meanwhile',
        wanted: 'under 15 % of a core',
        found: `${((100 * two.cpu) / two.seconds).toFixed(1)} %`,
      },
      {
        what: `${SHORT_ITEMS} items of ${SHORT_SECONDS} s: processor time of the server for each`,
        wanted: 'under 8 ms',
        found: `${((1000 * cost.cpu) / SHORT_ITEMS).toFixed(1)} ms, ${Math.round((60 * SHORT_ITEMS) / cost.seconds)} items a minute`,
      },
      {
        what: `${killedItems} items on three workers, each killed once`,
        wanted: 'under 1.3 x the time, one result each',
        found: `${(killed.seconds / calm.seconds).toFixed(2)} x (${calm.seconds.toFixed(0)} s, ${killed.seconds.toFixed(0)} s)`,
      },
    ];
    console.log(figureTable(figures));
  } finally {
    await tonos.remove();
    redis.kill();
  }
}

/** What is measured is this tree. */
export const buildServer = () =>
  execFileSync(process.execPath, [join(import.meta.dirname, '../../../node_modules/typescript/bin/tsc'), '-b'], {
    cwd: join(import.meta.dirname, '../../server'),
  });
