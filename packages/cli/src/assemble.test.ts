import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { babble, mixed, noise, sine } from '@tonos/core/testing';
import { withMarks } from '@tonos/formats/testing';
import { commandIn, saved, writtenTo } from './testing/command.ts';

const RATE = 24_000;
let folder: string;
const tonos = commandIn(() => folder);

const PARTS = [
  { id: 'opening', group: 'music', source: { recording: 'music.wav' }, chapter: 'Opening' },
  { id: 'body', group: 'voices', source: { place: 'body' }, begins: { after: 'opening', gapSeconds: -0.5 } },
  { id: 'spot', group: 'music', source: { place: 'spot' }, begins: { into: 'body', mark: 'break' }, chapter: 'Break' },
];

/** An order of its own; rows may differ. */
const order = (name: string, parts: unknown[] = PARTS, rest: object = {}) =>
  writtenTo(join(folder, name), {
    format: 'tonos.order/1',
    name: 'Weekly',
    groups: [{ id: 'voices', chain: 'Conversation' }, { id: 'music' }],
    parts,
    under: [{ group: 'music', of: ['voices'] }],
    ...rest,
  });

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'tonos-assemble-'));
  const voice = (seed: number) => mixed(babble(5, RATE, seed), noise(0.0005, 5, RATE, seed)).map((x) => 0.2 * x);
  const marked = async (name: string, seed: number, mark: string) =>
    withMarks(await saved(join(folder, name), voice(seed), RATE), [{ name: mark, frame: 3.5 * RATE }]);
  await marked('one.wav', 1, 'break');
  await marked('two.wav', 2, 'break');
  await marked('other.wav', 3, 'pause');
  await saved(join(folder, 'music.wav'), sine(440, 0.1, 2, RATE), RATE);
  await saved(join(folder, 'spot.wav'), sine(880, 0.1, 1, RATE), RATE);
  writtenTo(join(folder, 'junk.wav'), 'no sound at all');
});
afterAll(() => rmSync(folder, { recursive: true }));

it('puts a programme together for each body: named after it, judged, its parts and chapters told to the sample', () => {
  const { status, json } = tonos(
    ...['assemble', '--order', order('weekly.json'), '--target', 'Podcast, stereo', '--out', 'season'],
    ...['--fill', 'spot=spot.wav', '--each', 'body=one.wav', 'two.wav', '--json'],
  );
  expect(status).toBe(0);
  const results = json();
  expect(results.map(({ file, output, verdict }) => [file, output, verdict])).toEqual([
    ['one.wav', join('season', 'one.mp3'), 'within'],
    ['two.wav', join('season', 'two.mp3'), 'within'],
  ]);
  for (const result of results) {
    expect(result.parts).toEqual([
      { id: 'opening', startSeconds: 0, endSeconds: 2 },
      { id: 'body', startSeconds: 1.5, endSeconds: 7.5 },
      { id: 'spot', startSeconds: 5, endSeconds: 6 },
    ]);
    expect(result.chapters).toEqual([
      { title: 'Opening', startSeconds: 0 },
      { title: 'Break', startSeconds: 5 },
    ]);
    expect(result.before).toMatchObject({ durationSeconds: 5 });
    expect(Math.abs((result.after as { durationSeconds: number }).durationSeconds - 7.5)).toBeLessThan(0.03);
  }
  expect(readdirSync(join(folder, 'season')).sort()).toEqual(['one.mp3', 'two.mp3']);
});

it('one programme by itself is named after its order', () => {
  const path = order('evening.json');
  const fills = ['--fill', 'spot=spot.wav', 'body=one.wav'];
  const { status, json } = tonos('assemble', '--order', path, '--out', 'evening', ...fills, '--json');
  expect(status).toBe(0);
  expect(json()).toMatchObject([{ file: path, output: join('evening', 'evening.wav'), before: null, verdict: null }]);
});

it('what one body lacks fails that body alone, by its name', () => {
  const bodies = ['body=one.wav', 'other.wav', 'junk.wav', 'gone.wav'];
  const { status, json, stderr } = tonos(
    ...['assemble', '--order', order('some.json'), '--out', 'some', '--fill', 'spot=spot.wav', '--json'],
    ...['--each', ...bodies],
  );
  expect(status).toBe(3);
  expect(json()).toMatchObject([
    { file: 'one.wav', verdict: null },
    { file: 'other.wav', error: { code: 'invalid-order' } },
    { file: 'junk.wav', error: { code: 'not-audio' } },
    { file: 'gone.wav', error: { code: 'unreadable' } },
  ]);
  expect(stderr).toContain('other.wav: Part "spot", begins.mark: "body" has no mark "break". It has "pause".');
  expect(readdirSync(join(folder, 'some'))).toEqual(['one.wav']);
});

it.each<[string, () => string, string[], RegExp]>([
  [
    'a circle',
    () => order('o.json', [{ ...PARTS[0], begins: { after: 'body' } }, PARTS[1]]),
    ['body=one.wav'],
    /circle/,
  ],
  [
    'an unknown part',
    () => order('o.json', [{ ...PARTS[0], begins: { with: 'x' } }]),
    [],
    /begins\.with: there is no part "x"/,
  ],
  ['an empty place', () => order('o.json'), ['body=one.wav'], /"spot", source\.place/],
  ['a place that it does not have', () => order('o.json', [PARTS[0]]), ['body=one.wav'], /no place "body"/],
  [
    'a file that is not there',
    () => order('o.json', [{ ...PARTS[0], source: { recording: 'no.wav' } }]),
    [],
    /"opening", source.*no\.wav/,
  ],
  [
    'a mark that no body has',
    () => order('o.json'),
    ['spot=spot.wav', 'body=other.wav'],
    /"spot", begins\.mark.*"break"/,
  ],
  [
    'a begin before the programme',
    () => order('o.json', [{ ...PARTS[0], begins: { after: null, gapSeconds: -1 } }]),
    [],
    /"opening", begins\.gapSeconds/,
  ],
  [
    'a chain that is not known',
    () => order('o.json', [PARTS[0]], { chain: 'House' }),
    [],
    /chain: there is no chain "House"/,
  ],
])('%s ends with 2, names part and field, and writes nothing', (_, path, fills, said) => {
  const { status, stderr, stdout } = tonos(
    'assemble',
    '--order',
    path(),
    '--out',
    'none',
    ...fills.flatMap((fill) => ['--fill', fill]),
  );
  expect(status).toBe(2);
  expect(stderr).toMatch(said);
  expect(stdout).toBe('');
  if (existsSync(join(folder, 'none'))) expect(readdirSync(join(folder, 'none'))).toEqual([]);
});
