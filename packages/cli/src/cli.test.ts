import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { STEPS } from '@tonos/core';
import { babble, mixed, noise } from '@tonos/core/testing';
import { commandIn, saved, writtenTo } from './testing/command.ts';

let folder: string;
let voice: string;
let junk: string;

const tonos = commandIn(() => folder);
const written = (name: string, content: unknown) => writtenTo(join(folder, name), content);

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'tonos-cli-'));
  voice = join(folder, 'voice.wav');
  junk = written('junk.wav', 'no sound at all');
  await saved(
    voice,
    mixed(babble(4, 24000), noise(0.0005, 4, 24000)).map((x) => 0.2 * x),
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

it('measures files in the order given; one that can\u2019t be read keeps its place', () => {
  const { status, json, stderr } = tonos('measure', junk, voice, '--json');
  expect(status).toBe(3);
  const [bad, good] = json();
  expect(bad).toMatchObject({ file: junk, error: { code: 'not-audio' } });
  expect(good).toMatchObject({
    file: voice,
    durationSeconds: 4,
    sampleRateHz: 24000,
    channels: 1,
    bitDepth: 16,
    container: 'wav',
    codec: 'pcm',
  });
  expect(stderr.trim().split('\n')).toHaveLength(1);
  expect(stderr).toMatch(/junk\.wav/);
});

it('prints figures for a reader, with real minus signs', () => {
  const { status, stdout } = tonos('measure', voice);
  expect(status).toBe(0);
  const line = stdout.split('\n').find((one) => one.includes('LUFS'));
  const [title, value, unit] = line!.trim().split(/\s+/);
  expect([title, unit]).toEqual(['Loudness', 'LUFS']);
  expect(value).toMatch(/^\u2212\d\d\.\d$/);
});

it('checks: every limit by name, and status 1 where something is off target', () => {
  const { status, json } = tonos('check', '--target', 'Broadcast, EBU R 128', voice, '--json');
  expect(status).toBe(1);
  expect(json()).toMatchObject([
    {
      file: voice,
      verdict: 'off-target',
      limits: [
        { measure: 'integratedLufs', min: -23.5, max: -22.5, required: true },
        { measure: 'truePeakDbtp', min: null, max: -1 },
      ],
    },
  ]);
  const generous = written('generous.json', {
    name: 'Anything',
    limits: [{ measure: 'truePeakDbtp', max: 6 }],
    output: { container: 'wav' },
  });
  expect(tonos('check', '--target', generous, voice).status).toBe(0);
});

it('renders onto a target, never over a file that is there', () => {
  const chain = written('chain.json', { name: 'c', steps: [{ kind: 'high-pass' }] });
  const render = () =>
    tonos('render', '--chain', chain, '--target', 'Broadcast, EBU R 128', '--out', 'out', voice, '--json');
  const first = render();
  expect(first.status).toBe(0);
  expect(first.json()).toMatchObject([
    {
      file: voice,
      output: join('out', 'voice.wav'),
      verdict: 'within',
      before: { bitDepth: 16 },
      after: { bitDepth: 24, sampleRateHz: 48000 },
    },
  ]);
  const [{ after }] = first.json<{ after: { integratedLufs: number } }[]>();
  expect(Math.abs(after.integratedLufs + 23)).toBeLessThan(0.1);
  expect(render().json()).toMatchObject([{ output: join('out', 'voice (2).wav') }]);
  expect(readdirSync(join(folder, 'out')).sort()).toEqual(['voice (2).wav', 'voice.wav']);
});

it('renders without a target to 24-bit WAV at the source\u2019s rate, bit for bit the same each time', () => {
  const chain = written('gain.json', { name: 'g', steps: [{ kind: 'gain', settings: { gainDb: -3 } }] });
  for (const out of ['plain', 'again']) expect(tonos('render', '--chain', chain, '--out', out, voice).status).toBe(0);
  const [one, two] = ['plain', 'again'].map((out) => readFileSync(join(folder, out, 'voice.wav')));
  expect(one.equals(two)).toBe(true);
  expect(one.readUInt32LE(one.indexOf('fmt ') + 12)).toBe(24000);
});

it('packs what is within as a bag with its report, and leaves out the rest', () => {
  const generous = written('open.json', {
    name: 'Open',
    limits: [{ measure: 'truePeakDbtp', max: 6 }],
    output: { container: 'wav' },
  });
  const { status, json } = tonos(
    'deliver',
    '--target',
    generous,
    '--title',
    'Low: Water',
    '--out',
    'bags',
    voice,
    junk,
    '--json',
  );
  expect(status).toBe(3);
  expect(json()).toMatchObject([{ file: voice, verdict: 'within' }, { error: { code: 'not-audio' } }]);
  const zip = readFileSync(join(folder, 'bags', 'Low Water.zip')).toString('latin1');
  for (const text of ['Low Water/bagit.txt', 'data/voice.wav', '"tonos.report/1"', 'data/report.pdf'])
    expect(zip).toContain(text);
  expect(zip).not.toContain('data/junk.wav');
  expect(tonos('deliver', '--target', generous, '--out', 'bags', voice, voice).status).toBe(2);
});

it('makes cuts by file name before the chain; a pick-up lies beside the file of cuts', async () => {
  const chain = written('plain.json', { format: 'tonos.chain/1', name: 'Plain', steps: [] });
  mkdirSync(join(folder, 'pick-ups'), { recursive: true });
  await saved(join(folder, 'pick-ups', 'again.wav'), babble(4, 24000, 3));
  const takenFrom = { recordingId: 'again.wav', fromSeconds: 1, toSeconds: 2.5 };
  const cuts = written(join('pick-ups', 'cuts.json'), {
    format: 'tonos.cuts/1',
    recordings: {
      'voice.wav': [
        { id: 'a', kind: 'take-out', startSeconds: 3.1, endSeconds: 3.6 },
        { id: 'b', kind: 'pick-up', startSeconds: 1, endSeconds: 2, ...takenFrom },
        { id: 'c', kind: 'pause', atSeconds: 0.5, lengthSeconds: 1 },
      ],
    },
  });
  const { status, json } = tonos('render', '--chain', chain, '--cuts', cuts, '--out', 'cut', voice, '--json');
  expect(status).toBe(0);
  const [{ after, timeMap }] = json<{ after: { durationSeconds: number }; timeMap: [number, number][] }[]>();
  expect(after.durationSeconds).toBe(4 - 0.5 + 0.5 + 1);
  expect(timeMap).toEqual([
    [0, 0],
    [0.5, 0.5],
    [0.5, 1.5],
    [1, 2],
    [2, 3.5],
    [3.1, 4.6],
    [3.6, 4.6],
    [4, 5],
  ]);
});

it('names cuts that overlap, and what a pick-up lacks; other files go on', () => {
  const chain = written('plain.json', { format: 'tonos.chain/1', name: 'Plain', steps: [] });
  const out = (id: string, startSeconds: number, endSeconds: number) => ({
    id,
    kind: 'take-out',
    startSeconds,
    endSeconds,
  });
  const gone = {
    id: 'p',
    kind: 'pick-up',
    startSeconds: 1,
    endSeconds: 2,
    recordingId: 'no.wav',
    fromSeconds: 0,
    toSeconds: 1,
  };
  const render = (own: object[]) => {
    const cuts = written('bad.json', { format: 'tonos.cuts/1', recordings: { 'voice.wav': own } });
    return tonos('render', '--chain', chain, '--cuts', cuts, '--out', 'uncut', voice, '--json');
  };
  const overlapping = render([out('one', 1, 3), out('two', 2, 3.5)]);
  expect(overlapping.status).toBe(3);
  expect(overlapping.json()).toMatchObject([{ file: voice, error: { code: 'bad-cuts' } }]);
  expect(overlapping.stderr).toMatch(/"one".*"two".*overlap/);
  expect(render([gone]).json()).toMatchObject([{ error: { code: 'pick-up-gone' } }]);
  expect(render([{ kind: 'fold' }]).status).toBe(2);
});

describe('recordings of one session', () => {
  const later = 1.25;
  let members: string[];
  beforeAll(async () => {
    const session = mixed(babble(30, 24000, 5), noise(0.0005, 30, 24000)).map((x) => 0.3 * x);
    const other = session.subarray(later * 24000, 25 * 24000);
    members = [
      await saved(join(folder, 'host.wav'), session),
      await saved(
        join(folder, 'guest.wav'),
        mixed(
          other.map((x) => 0.3 * x),
          noise(0.0003, other.length / 24000, 24000, 2),
        ),
      ),
      await saved(join(folder, 'stranger.wav'), noise(0.1, 20, 24000, 8)),
    ];
  });

  it('are laid on the time of the first', () => {
    const { status, json } = tonos('align', '--json', ...members);
    expect(status).toBe(0);
    const [host, guest, stranger] = json<{ offsetSeconds: number; driftPpm: number; confidence: number }[]>();
    expect(host).toEqual({ file: members[0], offsetSeconds: 0, driftPpm: 0, confidence: 1 });
    expect(Math.abs(guest.offsetSeconds - later)).toBeLessThan(0.001);
    expect(guest).toMatchObject({ driftPpm: 0, confidence: 1 });
    expect(stranger.confidence).toBeLessThan(0.3);
  });

  it('are rendered as one set; one that does not belong to it is left out, and named', () => {
    const chain = written('tight.json', {
      format: 'tonos.chain/1',
      name: 'Tight',
      steps: [{ kind: 'shorten-pauses', settings: { longestSeconds: 0.4 } }],
    });
    const { status, json, stderr } = tonos('render', '--chain', chain, '--set', '--out', 'set', '--json', ...members);
    expect(status).toBe(3);
    const [host, guest, stranger] = json<{ after: { durationSeconds: number }; error?: { code: string } }[]>();
    expect(host.after.durationSeconds).toBeLessThan(27);
    expect(guest.after.durationSeconds).toBe(host.after.durationSeconds);
    expect(stranger.error?.code).toBe('not-together');
    expect(stderr).toMatch(/stranger\.wav.*nothing|no sound in common/);
  });

  it('may not be told different times', () => {
    const chain = written('timed.json', {
      format: 'tonos.chain/1',
      name: 'Timed',
      steps: [{ id: 'p', kind: 'shorten-pauses', settings: {} }],
    });
    const own = { [members[1]]: { steps: [{ id: 'p', settings: { longestSeconds: 3 } }] } };
    const adjust = written('untimed.json', { steps: [], files: own });
    const { status, stderr } = tonos('render', '--chain', chain, '--adjust', adjust, '--set', '--out', 's', ...members);
    expect(status).toBe(2);
    expect(stderr).toMatch(/set/);
  });
});

it('renders with adjustments to single settings', () => {
  const chain = written('adjustable.json', {
    name: 'g',
    steps: [{ id: 'trim', kind: 'gain', settings: { gainDb: -3 } }],
  });
  const adjust = written('adjust.json', { steps: [{ id: 'trim', settings: { gainDb: 1.5 } }] });
  const { status, json } = tonos('render', '--chain', chain, '--adjust', adjust, '--out', 'adjusted', voice, '--json');
  expect(status).toBe(0);
  const [{ before, after }] = json<Record<'before' | 'after', { rmsDbfs: number }>[]>();
  expect(after.rmsDbfs - before.rmsDbfs).toBeCloseTo(1.5, 2);
});

it.each<[string, () => string[], RegExp]>([
  ['no command', () => [], /Usage/],
  ['no files', () => ['measure'], /missing required argument/],
  ['a chain that is not there', () => ['render', '--chain', 'nowhere', '--out', 'never', voice], /no chain "nowhere"/],
  [
    'a setting out of range',
    () => [
      'render',
      '--chain',
      written('bad.json', { name: 'b', steps: [{ kind: 'gain', settings: { gainDb: 900 } }] }),
      '--out',
      'never',
      voice,
    ],
    /Step 1 \(gain\), setting gainDb/,
  ],
  [
    'an unknown kind',
    () => [
      'render',
      '--chain',
      written('odd.json', { name: 'o', steps: [{ kind: 'flanger' }] }),
      '--out',
      'never',
      voice,
    ],
    /flanger/,
  ],
  [
    'adjustments of a step that is not there',
    () => [
      'render',
      '--chain',
      'Conversation',
      '--adjust',
      written('stray.json', { steps: [{ id: 'nobody', settings: {} }] }),
      '--out',
      'never',
      voice,
    ],
    /no step "nobody"/,
  ],
  ['a target that is no JSON', () => ['check', '--target', written('t.json', '{'), voice], /can't be used/],
])('answers %s with status 2 and writes nothing', (_, args, message) => {
  const { status, stderr } = tonos(...args());
  expect(status).toBe(2);
  expect(stderr).toMatch(message);
  expect(readdirSync(folder)).not.toContain('never');
});

it('proposes a chain and adjustments for single files, and what it foretells comes true', async () => {
  const hum = (x: Float32Array) =>
    x.map(
      (v, i) =>
        v + 0.004 * Math.sin((2 * Math.PI * 50 * i) / 24000) + 0.003 * Math.sin((2 * Math.PI * 150 * i) / 24000 + 1),
    );
  const quiet = mixed(babble(12, 24000), noise(0.0008, 12, 24000)).map((x) => 0.2 * x);
  const noisy = hum(mixed(babble(12, 24000, 9), noise(0.008, 12, 24000)).map((x) => 0.2 * x));
  const files = await Promise.all([quiet, noisy].map((samples, i) => saved(join(folder, `take ${i}.wav`), samples)));
  const target = ['--target', 'Audiobook, loudness'];
  const { status, json } = tonos('propose', ...target, '--out', 'proposed', ...files, junk, '--json');
  expect(status).toBe(3);
  interface Limit {
    measure: string;
    value: number;
    result: string;
  }
  const proposed = json<{
    chain: { steps: { kind: string; id: string }[] };
    adjust: { files: Record<string, unknown> };
    files: {
      file: string;
      complaints: { code: string }[];
      forecast: { verdict: string; limits: Limit[] };
      error?: object;
    }[];
  }>();
  const kinds = proposed.chain.steps.map(({ kind }) => kind);
  const order = ['hum-removal', 'noise-reduction', 'loudness-normalise'];
  expect(kinds.filter((kind) => order.includes(kind))).toEqual(order);
  expect(proposed.files.map(({ file }) => file)).toEqual([...files, junk]);
  expect(proposed.files[1].complaints.map(({ code }) => code)).toContain('hum');
  expect(proposed.files[2].error).toBeDefined();
  // what lies in the folder is what render takes, and comes out as foretold
  const rendered = tonos(
    'render',
    '--chain',
    join('proposed', 'proposal.chain.json'),
    '--adjust',
    join('proposed', 'proposal.adjust.json'),
    ...target,
    '--out',
    'as proposed',
    ...files,
    '--json',
  ).json<{ verdict: string; limits: Limit[] }[]>();
  rendered.forEach(({ verdict, limits }, i) => {
    const { forecast } = proposed.files[i];
    expect(forecast.verdict).toBe(verdict);
    for (const limit of limits)
      expect(
        Math.abs(forecast.limits.find(({ measure }) => measure === limit.measure)!.value - limit.value),
      ).toBeLessThan(1);
  });
  expect(rendered.map(({ verdict }) => verdict)).toEqual(['within', 'within']);
  const kept = tonos('propose', ...target, '--chain', 'Conversation', '--out', 'kept', files[0], '--json');
  expect(kept.json<{ chain: { name: string } }>().chain.name).toBe('Conversation');
  expect(readdirSync(join(folder, 'kept')).sort()).toEqual(['proposal.adjust.json', 'proposal.chain.json']);
});

it('adjusts single files by their path or name, and the rest as one', () => {
  const chain = written('each.json', { name: 'g', steps: [{ id: 'trim', kind: 'gain', settings: { gainDb: 0 } }] });
  const by = (gainDb: number) => ({ steps: [{ id: 'trim', settings: { gainDb } }] });
  const adjust = written('each.adjust.json', { ...by(-2), files: { [voice]: by(-6), 'take 0.wav': by(-9) } });
  const other = join(folder, 'take 1.wav');
  const results = tonos(
    'render',
    '--chain',
    chain,
    '--adjust',
    adjust,
    '--out',
    'each',
    voice,
    join(folder, 'take 0.wav'),
    other,
    '--json',
  );
  const gains = results
    .json<Record<'before' | 'after', { rmsDbfs: number }>[]>()
    .map(({ before, after }) => after.rmsDbfs - before.rmsDbfs);
  [-6, -9, -2].forEach((gainDb, i) => expect(gains[i]).toBeCloseTo(gainDb, 1));
});

it('S23: names a file by the path that was given', () => {
  const [first, second] = ['one', 'two'].map((name) => {
    mkdirSync(join(folder, name), { recursive: true });
    return written(join(name, 'take.wav'), 'no sound');
  });
  for (const command of [
    ['measure', first, second],
    ['check', '--target', 'Podcast, mono', first, second],
    ['render', '--chain', 'Conversation', '--out', 'named', first, second],
  ]) {
    const { status, stderr } = tonos(...command);
    expect(status).toBe(3);
    const lines = stderr.trim().split('\n');
    expect(lines.map((line) => [line.includes(first), line.includes(second)])).toEqual([
      [true, false],
      [false, true],
    ]);
  }
});

it('lists the steps with the JSON Schema of their settings', () => {
  const { status, json } = tonos('steps', '--json');
  expect(status).toBe(0);
  expect(json().length).toBe(STEPS.length);
  expect(json().find(({ kind }) => kind === 'high-pass')).toMatchObject({
    settings: { properties: { frequencyHz: { minimum: 10, maximum: 20000, default: 80, unit: 'Hz' } } },
  });
});
