import type { Recording, ServerEvent, Title } from '@tonos/contract';
import { sine } from '@tonos/core/testing';
import { TestServer, wavFile } from '../testing/test-server.ts';

/** More than are read in one go. */
const COUNT = 250;
const AT_ONCE = 10;
let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

it('two who label at once: what is told last is what stands, for rows that both changed', async () => {
  const { body: title } = await server.call<Title>('POST', '/titles', { name: 'Many', kind: 'podcast' });
  const ids: string[] = [];
  while (ids.length < COUNT) {
    const form = new FormData();
    for (let i = 0; i < AT_ONCE; i++) {
      const name = `${ids.length + i}.wav`;
      form.append('files', await wavFile(name, sine(300 + ids.length + i, 0.1, 0.05, 8000), 8000));
    }
    const { body: added } = await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form);
    ids.push(...added.map(({ id }) => id));
  }
  expect(ids).toHaveLength(COUNT);
  const listening = new AbortController();
  const stream = await fetch(`${server.origin}/api/events`, { signal: listening.signal });
  const told = new Map<string, string>();
  const keys = new Set<string>();
  const heard = (async () => {
    const decoder = new TextDecoder();
    let text = '';
    for await (const chunk of stream.body as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk, { stream: true });
      const lines = text.split('\n');
      text = lines.pop()!;
      for (const line of lines) {
        if (!line.startsWith('data: ')) continue;
        const event = JSON.parse(line.slice(6)) as ServerEvent;
        if (event.type === 'recordings')
          for (const { id, ...part } of event.changes) {
            for (const key of Object.keys(part)) keys.add(key);
            if (part.speaker !== undefined) told.set(id, part.speaker);
          }
      }
    }
  })().catch(() => {});
  const label = (some: readonly string[], speaker: string) =>
    server.call('PATCH', '/recordings', { ids: some, speaker });
  // the second comes in while the first one's rows are being read
  await Promise.all([label(ids, 'Ada'), label(ids.slice(0, 1), 'Ben'), label(ids.slice(-1), 'Cy')]);
  const { body: now } = await server.call<Recording[]>('GET', `/titles/${title.id}/recordings`);
  await new Promise((resolve) => setTimeout(resolve, 300));
  listening.abort();
  await heard;
  expect(new Set(now.map(({ speaker }) => speaker))).toEqual(new Set(['Ada', 'Ben', 'Cy']));
  expect(now.filter(({ id, speaker }) => told.get(id) !== speaker)).toEqual([]);
  // what was not changed is not told: pages ask anew what hangs on it
  expect([...keys].sort()).toEqual(['speaker', 'version']);
});
