import type { Active, Over } from '@dnd-kit/core';
import { moveWords } from './move-words.ts';

const words = moveWords([
  { id: 'a', kind: 'high-pass' },
  { id: 'b', kind: 'compressor' },
  { id: 'c', kind: 'of-a-later-version' },
]);
const active = (id: string) => ({ id }) as Active;
const over = (id: string) => ({ id }) as Over;

it('P22: a step that is moved is named, and its place counted', () => {
  expect(words.onDragStart!({ active: active('b') } as never)).toBe('Compressor is taken up, at place 2 of 3.');
  expect(words.onDragOver!({ active: active('b'), over: over('a') } as never)).toBe('Compressor is over place 1 of 3.');
  expect(words.onDragEnd!({ active: active('b'), over: over('c') } as never)).toBe(
    'Compressor is put down, at place 3 of 3.',
  );
  expect(words.onDragEnd!({ active: active('b'), over: null } as never)).toBe('Compressor is put down.');
  expect(words.onDragCancel!({ active: active('c'), over: null } as never)).toBe(
    'of-a-later-version is back where it was.',
  );
});
