import { deliveredName, unknownWords } from './naming.ts';

const parts = { name: 'ch7_raw', title: 'The Ferry', album: 'Salt Road', track: 7, tracks: 120, speaker: 'Ada' };

it.each([
  ['{name}', 'ch7_raw'],
  ['{track} {title}', '007 The Ferry'],
  ['{album} - {track} - {title} ({speaker})', 'Salt Road - 007 - The Ferry (Ada)'],
  ['  {nothing} {name}', '{nothing} ch7_raw'],
  ['..', 'ch7_raw'],
  ['', 'ch7_raw'],
])('makes a name of %s', (template, name) => {
  expect(deliveredName(template, parts)).toBe(name);
});

it('never makes a path, a hidden file or a name without end', () => {
  const hostile = { ...parts, title: '../../etc/passwd\0\n<b>:"', album: '.hidden' };
  expect(deliveredName('{title}', hostile)).toBe('etc passwd b');
  expect(deliveredName('{album}', hostile)).toBe('hidden');
  expect(deliveredName('{title}', { ...parts, title: 'x'.repeat(5000) }).length).toBe(200);
});

it('gives numbers two digits at least', () => {
  expect(deliveredName('{track}', { ...parts, tracks: 9 })).toBe('07');
});

it('knows which words there are not', () => {
  expect(unknownWords('{track} {isbn} {title} {}')).toEqual(['isbn', '']);
});
