import { mentionedIn } from './mentions.ts';

const people = [
  { id: 'a', name: 'Mira', leftAt: null },
  { id: 'b', name: 'Mira Osten', leftAt: null },
  { id: 'c', name: 'Ö. Łukas', leftAt: null },
  { id: 'd', name: 'Gone Person', leftAt: '2026-01-01' },
  { id: 'e', name: '', leftAt: null },
];

it.each([
  ['@Mira Osten, listen', ['b']],
  ['@mira osten.', ['b']],
  ['@Mira and @Mira Osten', ['a', 'b']],
  ['@Mira Ostenfeld', ['a']],
  ['@Mirabelle', []],
  ['mira@osten.example', []],
  ['(@ö. łukas)', ['c']],
  ['@Gone Person', []],
  ['@', []],
  ['nobody', []],
  ['@@Mira', ['a']],
])('in “%s” finds %j', (text, ids) => {
  expect(mentionedIn(text, people)).toEqual(ids);
});
