import { ROUTES } from '@tonos/contract';
import { askLines } from './ask-lines.ts';

const real = globalThis.fetch;
afterEach(() => {
  globalThis.fetch = real;
});

function answered(chunks: readonly string[], status = 200, end: 'ends' | 'breaks' = 'ends') {
  const bytes = new TextEncoder();
  const body = new ReadableStream({
    async pull(controller) {
      const chunk = (chunks as string[]).shift();
      if (chunk !== undefined) controller.enqueue(bytes.encode(chunk));
      else if (end === 'ends') controller.close();
      else controller.error(new TypeError('network error'));
    },
  });
  globalThis.fetch = async () => new Response(body, { status });
}

async function heard(): Promise<unknown[]> {
  const lines: unknown[] = [];
  const { signal } = new AbortController();
  await askLines(ROUTES.ledger, { params: { id: 'a' }, body: { steps: [] } }, signal, (line) => lines.push(line));
  return lines;
}

it('hears every line, however they are cut up', async () => {
  answered(['{"n":', '1}\n{"n":2}', '\n', '{"n":3}\n']);
  expect(await heard()).toEqual([{ n: 1 }, { n: 2 }, { n: 3 }]);
});

it('says in words what the server says, and that it did not answer', async () => {
  answered(['{"detail":"There is no such recording."}'], 404);
  await expect(heard()).rejects.toThrow('There is no such recording.');
  answered(['{"n":1}\n'], 200, 'breaks');
  await expect(heard()).rejects.toThrow('The server did not answer.');
  globalThis.fetch = () => Promise.reject(new TypeError('Failed to fetch'));
  await expect(heard()).rejects.toThrow('The server did not answer.');
});
