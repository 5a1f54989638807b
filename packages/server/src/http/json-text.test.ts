import { JsonText, textOf } from './json-text.ts';

it('writes a long list as it would be written in one go', async () => {
  const rows = Array.from({ length: 1001 }, (_, i) => (i === 7 ? undefined : { i, name: 'a "b",\n', parts: [[]] }));
  expect(await textOf(rows)).toBe(JSON.stringify(rows));
  expect(await textOf([])).toBe('[]');
  expect(await textOf({ rows })).toBe(JSON.stringify({ rows }));
  expect(await textOf(new JsonText('[1]'))).toBe('[1]');
});

it('P12: lets others be answered between slices', async () => {
  let isAnswered = false;
  const writing = textOf(Array.from({ length: 401 }, () => 1));
  setImmediate(() => {
    isAnswered = true;
  });
  await writing;
  expect(isAnswered).toBe(true);
});
