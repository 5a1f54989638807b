/** @jest-environment ./scripts/jest-dom.mjs */
import { act, waitFor } from '@testing-library/react';
import type { Chain } from '@tonos/contract';
import { answerPage } from '../../testing/answer-page.ts';
import { hookInPage } from '../../testing/in-page.tsx';
import { chainEditorSlice } from './chain-slice.ts';
import { useChainEditor } from './use-chain-editor.ts';

const gain = (gainDb: number) => ({ id: 'g', kind: 'gain', on: true, mix: 1, settings: { gainDb } });
const chain = (version: number, gainDb: number, draft: Chain['draft'] = null): Chain =>
  ({
    id: 'c',
    name: 'Plain',
    revision: 1,
    version,
    steps: [gain(gainDb)],
    draft,
    revisions: [{ author: 'Ada' }],
  }) as unknown as Chain;
const draftOf = (gainDb: number, author: string) =>
  ({ steps: [gain(gainDb)], basedOn: 1, changedAt: '', author }) as unknown as Chain['draft'];

interface Write {
  method: string;
  path: string;
  seen: string | null;
  gainDb: number | undefined;
}

/** What the page wrote, and what the server says to it. */
let writes: Write[];
let status: number;
let putBack: () => void;
beforeEach(() => {
  [writes, status] = [[], 200];
  putBack = answerPage(async (request) => {
    const text = await request.text();
    const seen = request.headers.get('if-match');
    writes.push({
      method: request.method,
      path: new URL(request.url).pathname,
      seen,
      gainDb: text ? JSON.parse(text).steps[0].settings.gainDb : undefined,
    });
    const version = Number(seen?.replaceAll('"', '')) + 1;
    const refused = { code: 'changed-meanwhile', message: 'Changed.' };
    return Response.json(status === 200 ? chain(version, 0) : refused, { status });
  });
});
afterEach(() => putBack());

const opened = (first: Chain) => hookInPage((given: Chain) => useChainEditor(given), first);
type Opened = ReturnType<typeof opened>;
const set = ({ store }: Opened, gainDb: number) =>
  act(() => void store.dispatch(chainEditorSlice.actions.replaced({ chainId: 'c', steps: [gain(gainDb)] })));
const shown = ({ result }: Opened) => result.current.edited!.present[0].settings;

it('P1: a page in which nothing is changed follows what others do, and writes nothing', async () => {
  const page = opened(chain(1, 0));
  expect(shown(page)).toEqual({ gainDb: 0 });
  page.rerender(chain(2, 0, draftOf(-3, 'Ada')));
  expect(shown(page)).toEqual({ gainDb: -3 });
  page.unmount();
  await new Promise((resolve) => setTimeout(resolve, 700));
  expect(writes).toEqual([]);
});

it('P29: saves once a moment after the last of several changes, on the version it saw, and the next on the one that made', async () => {
  const page = opened(chain(4, 0));
  for (const gainDb of [-1, -2, -3]) set(page, gainDb);
  expect(writes).toEqual([]);
  await waitFor(() => expect(page.result.current.edited!.version).toBe(5));
  set(page, -4);
  await waitFor(() => expect(page.result.current.edited!.version).toBe(6));
  const path = '/api/chains/c/draft';
  expect(writes).toEqual([
    { method: 'PUT', path, seen: '"4"', gainDb: -3 },
    { method: 'PUT', path, seen: '"5"', gainDb: -4 },
  ]);
  // what is saved is not saved again when the page goes
  page.unmount();
  expect(writes).toHaveLength(2);
});

it('a page that is left before it has saved does so at once; back at the revision it drops the draft instead', async () => {
  const left = opened(chain(1, 0));
  set(left, -6);
  left.unmount();
  await waitFor(() => expect(writes).toMatchObject([{ method: 'PUT', seen: '"1"', gainDb: -6 }]));

  writes = [];
  const page = opened(chain(1, 0));
  set(page, -6);
  await waitFor(() => expect(writes).toHaveLength(1));
  set(page, 0);
  await waitFor(() => expect(writes).toMatchObject([{ method: 'PUT' }, { method: 'DELETE', seen: '"2"' }]));
});

it('P1: where somebody else wrote meanwhile nothing is lost: theirs, or mine over it, each by one act', async () => {
  const page = opened(chain(1, 0));
  status = 412;
  set(page, -6);
  await waitFor(() => expect(writes).toHaveLength(1));
  // until theirs has come in there is nothing to choose from, and nothing more is written
  expect(page.result.current.conflict).toBeUndefined();
  page.rerender(chain(2, 0, draftOf(-12, 'Ada')));
  await waitFor(() => expect(page.result.current.conflict?.author).toBe('Ada'));
  expect(shown(page)).toEqual({ gainDb: -6 });
  await new Promise((resolve) => setTimeout(resolve, 700));
  expect(writes).toHaveLength(1);

  act(() => page.result.current.conflict!.takeTheirs());
  expect(shown(page)).toEqual({ gainDb: -12 });
  act(() => void page.store.dispatch(chainEditorSlice.actions.undone({ chainId: 'c' })));
  expect(shown(page)).toEqual({ gainDb: -6 });
  status = 200;
  await waitFor(() => expect(writes.at(-1)).toMatchObject({ method: 'PUT', seen: '"2"', gainDb: -6 }));
});
