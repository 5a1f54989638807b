import { RowCache } from './row-cache.ts';

/** A table whose rows are read whole only where they are asked for. */
function table() {
  const rows = new Map<string, { id: string; version: number; large: string }>();
  const reads: (readonly string[])[] = [];
  const cache = new RowCache<{ id: string; version: number; large: string }>(3);
  const askKept = (...ids: string[]) =>
    cache.complete(
      ids.map((id) => ({ id, sign: String(rows.get(id)!.version) })),
      async (missing) => {
        reads.push(missing);
        return missing.flatMap((id) => rows.get(id) ?? []);
      },
    );
  const ask = async (...ids: string[]) => (await askKept(...ids)).map(({ value }) => value);
  const set = (id: string, version: number) => rows.set(id, { id, version, large: `${id}${version}` });
  return { rows, reads, ask, askKept, set };
}

it('reads a row whole once, and again when it has changed', async () => {
  const { reads, ask, set } = table();
  set('a', 1);
  set('b', 1);
  expect((await ask('a', 'b')).map(({ large }) => large)).toEqual(['a1', 'b1']);
  await ask('b', 'a');
  set('b', 2);
  expect((await ask('a', 'b')).map(({ large }) => large)).toEqual(['a1', 'b2']);
  expect(reads).toEqual([['a', 'b'], ['b']]);
});

it('answers in the order that is asked for, and leaves out a row that is gone', async () => {
  const { rows, ask, set } = table();
  for (const id of ['a', 'b', 'c']) set(id, 1);
  expect((await ask('c', 'a')).map(({ id }) => id)).toEqual(['c', 'a']);
  const gone = rows.get('b')!;
  rows.delete('b');
  rows.set('b', gone);
  expect((await ask('b', 'c')).map(({ id }) => id)).toEqual(['b', 'c']);
});

it('keeps no more rows than it may, and gives up those that were asked for longest ago', async () => {
  const { reads, ask, set } = table();
  for (const id of ['a', 'b', 'c', 'd']) set(id, 1);
  await ask('a', 'b', 'c');
  await ask('a');
  await ask('d'); // b goes
  await ask('a', 'c', 'd');
  await ask('b');
  expect(reads).toEqual([['a', 'b', 'c'], ['d'], ['b']]);
});

it('gives all rows of a list that is longer than what it keeps', async () => {
  const { ask, set } = table();
  const ids = ['a', 'b', 'c', 'd', 'e'];
  for (const id of ids) set(id, 1);
  expect((await ask(...ids)).map(({ id }) => id)).toEqual(ids);
});

it('writes the JSON of a row once, and anew when it has changed', async () => {
  const { rows, askKept, set } = table();
  set('a', 1);
  const [first] = await askKept('a');
  expect(JSON.parse(first.json)).toEqual(rows.get('a'));
  const [again] = await askKept('a');
  expect(again.json).toBe(first.json);
  expect(again).toBe(first);
  set('a', 2);
  const [changed] = await askKept('a');
  expect(JSON.parse(changed.json)).toEqual({ id: 'a', version: 2, large: 'a2' });
});
