import { newestNamed } from './newest-named.ts';

it('finds by name whatever the capitals, and of several the one that was changed last', () => {
  const named = (name: string, changedAt: string) => ({ name, changedAt });
  const all = [
    named('Talk', '2026-02-01'),
    named('talk', '2026-03-01'),
    named('TALK', '2026-01-01'),
    named('Tale', '2027'),
  ];
  expect(newestNamed(all, 'Talk')).toBe(all[1]);
  expect(newestNamed([...all].reverse(), 'tALK')).toBe(all[1]);
  expect(newestNamed(all, 'Talks')).toBeUndefined();
});
