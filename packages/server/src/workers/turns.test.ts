import { Turns } from './turns.ts';

it('people take turns: a tenth piece of one waits for the first of another', async () => {
  const turns = new Turns();
  const done: string[] = [];
  const take = (person: string, n: number) => turns.take(person, async () => void done.push(`${person}${n}`));
  const all = [1, 2, 3, 4].map((n) => take('a', n));
  await Promise.resolve();
  all.push(take('b', 1), take('c', 1), take('b', 2));
  await Promise.all(all);
  // the first had begun before the others came, and stood for its next turn
  expect(done).toEqual(['a1', 'a2', 'b1', 'c1', 'a3', 'b2', 'a4']);
});

it('work that fails fails its own, and the next goes on', async () => {
  const turns = new Turns();
  const failing = turns.take('a', () => Promise.reject(new Error('broken')));
  await expect(failing).rejects.toThrow('broken');
  await expect(turns.take('a', async () => 7)).resolves.toBe(7);
});
