import { readFile } from 'node:fs/promises';
import type { Tonos } from './tonos.ts';

export interface Named {
  id: string;
  name: string;
}

/** What flows read of a run. */
export interface RunReply {
  id: string;
  status: string;
  counts: Record<string, number>;
  items: {
    id: string;
    status: string;
    output: { sha256: string } | null;
    error: { code?: string; message: string } | null;
  }[];
}

/** Calls the server as programs do; throws where an answer is a problem. */
export const api =
  ({ origin }: Pick<Tonos, 'origin'>) =>
  async <T = unknown>(method: string, path: string, body?: unknown): Promise<T> => {
    const isJson = body !== undefined && !(body instanceof FormData);
    const response = await fetch(`${origin}/api${path}`, {
      method,
      headers: { origin, ...(isJson ? { 'content-type': 'application/json' } : {}) },
      body: isJson ? JSON.stringify(body) : body,
    });
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text.slice(0, 500)}`);
    return (text ? JSON.parse(text) : undefined) as T;
  };

type Call = ReturnType<typeof api>;

/** The recordings of a title, once all of them are measured. */
export async function allReady<Recording extends { status: string }>(
  call: Call,
  titleId: string,
): Promise<Recording[]> {
  for (;;) {
    const recordings = await call<Recording[]>('GET', `/titles/${titleId}/recordings`);
    if (recordings.every(({ status }) => status === 'ready')) return recordings;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

/** A title with so many voices of so many seconds, and a run of them with noise reduction, measured and begun. */
export async function startedRun(tonos: Tonos, titleName: string, items: number, seconds: number) {
  const call = api(tonos);
  const form = new FormData();
  for (let seed = 1; seed <= items; seed++)
    form.append('files', new File([await readFile(await tonos.voice(`${seed}.wav`, seconds, seed))], `${seed}.wav`));
  const { id: titleId } = await call<Named>('POST', '/titles', { name: titleName, kind: 'audiobook' });
  await call('POST', `/titles/${titleId}/recordings`, form);
  const recordings = await allReady<Named & { status: string }>(call, titleId);
  const { id: chainId } = await call<Named>('POST', '/chains', { name: 'Quiet', steps: [{ kind: 'noise-reduction' }] });
  const targetId = (await call<Named[]>('GET', '/targets')).find(({ name }) => name === 'Podcast, mono')!.id;
  const recordingIds = recordings.map(({ id }) => id);
  const run = await call<RunReply>('POST', '/runs', { titleId, recordingIds, chainId, targetId });
  return { titleId, runId: run.id, now: () => call<RunReply>('GET', `/runs/${run.id}`) };
}
