import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { ROUTES, type Route } from '@tonos/contract';
import fc from 'fast-check';
import { TestServer } from './testing/test-server.ts';

/** Every call with bodies, ids and queries that nobody should send: each ends in an answer that says what is wrong, and nothing breaks. */

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const routes = (Object.entries(ROUTES) as [string, Route][]).filter(
  // what streams for ever is another story
  ([name]) => name !== 'events',
);

/** Ids as they come from other programs, from people and from worse. */
const ids = fc.oneof(
  fc.uuid(),
  fc.constantFrom('..', '%2e%2e%2f%2e%2e%2fetc%2fpasswd', '0', "' OR 1=1 --", 'null', '\u202e', 'a'.repeat(3000)),
  fc.string({ unit: 'binary', minLength: 1, maxLength: 40 }),
);

const addressOf = (path: string, some: string[]): string => {
  let at = 0;
  return path.replace(
    /:\w+/g,
    () => encodeURIComponent(some[at++ % some.length].replace(/[\ud800-\udfff]/g, '')) || '0',
  );
};

async function ask(method: string, path: string, body?: string, type = 'application/json') {
  const response = await fetch(`${server.origin}${path}`, {
    method: method.toUpperCase(),
    ...(body === undefined || method === 'get' ? {} : { body, headers: { 'content-type': type } }),
  });
  const text = await response.text();
  return { status: response.status, type: response.headers.get('content-type') ?? '', text };
}

/** Done, or a problem of the asker's with words; never one of the server's. */
function expectClear({ status, type, text }: Awaited<ReturnType<typeof ask>>): void {
  expect(status).toBeLessThan(500);
  if (status < 400) return;
  expect(type).toContain('application/problem+json');
  const problem = JSON.parse(text) as { status: number; code: string; detail: string };
  expect(problem).toMatchObject({ status, code: expect.stringMatching(/^[a-z-]+$/) });
  expect(problem.detail.length).toBeGreaterThan(10);
  // no path of the machine and no line of the program leaves the server
  expect(text).not.toMatch(/node_modules|packages\/server|at .*\.js:\d/);
  expect(text).not.toContain(server.dataFolder);
}

describe.each(routes)('%s', (_, { method, path }) => {
  it('answers any JSON, and says what is wrong with it', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(ids, { minLength: 3, maxLength: 3 }), fc.jsonValue(), async (some, value) => {
        expectClear(await ask(method, addressOf(path, some), JSON.stringify(value)));
      }),
      { numRuns: 10 },
    );
  });

  it('answers what is no JSON, and other kinds of content', async () => {
    for (const [body, type] of [
      ['{"a":', 'application/json'],
      ['', 'application/json'],
      ['\u0000\u0001', 'application/octet-stream'],
      ['a=b', 'application/x-www-form-urlencoded'],
      ['--x\r\n', 'multipart/form-data; boundary=x'],
      ['{}', 'text/plain'],
      ['[]', 'application/json; charset=klingon'],
    ])
      expectClear(await ask(method, addressOf(path, ['nobody']), body, type));
  });
});

it('answers any query, on every call that reads one', async () => {
  const asked = routes.filter(([, { query, method }]) => query && method === 'get');
  expect(asked.length).toBeGreaterThan(2);
  const values = fc.oneof(
    fc.string(),
    fc.integer().map(String),
    fc.constantFrom('NaN', '-1', '1e999', '', '../..', '[]'),
  );
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...asked),
      fc.dictionary(fc.constantFrom('from', 'to', 'root', 'path', 'columns', 'rows', 'side', 'frames'), values),
      async ([, { path }], query) => {
        expectClear(await ask('get', `${addressOf(path, ['nobody'])}?${new URLSearchParams(query)}`));
      },
    ),
    { numRuns: 60 },
  );
});

it('keeps to its own files, whatever address is asked for', async () => {
  const paths = [
    '/../tonos.sqlite',
    '/%2e%2e/tonos.sqlite',
    '/data/tonos.sqlite',
    '/api/../../tonos.sqlite',
    '/.git/config',
    '//etc/passwd',
  ];
  for (const path of paths) {
    const { status, text } = await ask('get', path);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(text).not.toContain('SQLite format');
    expect(text).not.toContain('root:');
  }
});

it('is as it was after all this: ready, without an error in its log and without a file left behind', async () => {
  expect((await server.call('GET', '/health')).body).toMatchObject({ status: 'ready' });
  expect(server.errors).toEqual([]);
  for (const folder of ['tmp', 'spool', 'blobs']) expect(await readdir(join(server.dataFolder, folder))).toEqual([]);
});
