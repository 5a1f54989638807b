import { join } from 'node:path';
import type { Chain, Recording, Run, Target } from '@tonos/contract';
import { allReady, api, type Named } from '@tonos/e2e/api';
import type { Tonos } from '@tonos/e2e/tonos';
import { writeVoices } from '../write-voices.ts';
import type { Figure } from './figure.ts';

const ITEMS = 500;
const SECONDS = 5;

/** Five hundred short recordings on one board, asked for all the while. */
export async function board(tonos: Tonos): Promise<Figure[]> {
  const files = await writeVoices(join(tonos.folder, 'inbox', 'Short'), { count: ITEMS, seconds: SECONDS });
  const call = api(tonos);
  const title = await call<Named>('POST', '/titles', { name: 'Short ones', kind: 'podcast' });
  await call('POST', `/titles/${title.id}/recordings/from-folder`, { path: 'Short', files });
  const recordingIds = (await allReady<Recording>(call, title.id)).map(({ id }) => id);
  const steps = ['high-pass', 'compressor', 'limiter'].map((kind) => ({ id: kind, kind, settings: {} }));
  const chain = await call<Chain>('POST', '/chains', { format: 'tonos.chain/1', name: 'Short', steps });
  const target = (await call<Target[]>('GET', '/targets')).find(({ name }) => name === 'Podcast, mono')!;

  const cpuBefore = tonos.cpuSeconds();
  const ownBefore = process.cpuUsage();
  const started = performance.now();
  let run = await call<Run>('POST', '/runs', {
    titleId: title.id,
    recordingIds,
    chainId: chain.id,
    targetId: target.id,
  });
  const waits: number[] = [];
  while (run.status !== 'finished') {
    await new Promise((resolve) => setTimeout(resolve, 200));
    for (const path of [`/runs/${run.id}`, `/titles/${title.id}/recordings`, '/chains']) {
      const asked = performance.now();
      const reply = await call<Run>('GET', path);
      waits.push(performance.now() - asked);
      if (path.startsWith('/runs/')) run = reply;
    }
  }
  const seconds = (performance.now() - started) / 1000;
  waits.sort((a, b) => a - b);
  const share = (cpuSeconds: number) => `${Math.round((100 * cpuSeconds) / seconds / 2)} %`;
  const busy = tonos.cpuSeconds() - cpuBefore;
  const { user, system } = process.cpuUsage(ownBefore);
  return [
    {
      what: `board of ${ITEMS} items of ${SECONDS} s while they run: replies`,
      wanted: '95 of 100 in 100 ms',
      found: `95 of 100 in ${Math.round(waits[Math.floor(0.95 * waits.length)])} ms`,
    },
    {
      what: 'two cores while it runs',
      wanted: '90 % used',
      found: `${share(busy)} by the server, ${share((user + system) / 1e6)} by who asks`,
    },
    { what: 'items a minute', wanted: '', found: Math.round((60 * ITEMS) / seconds).toString() },
  ];
}
