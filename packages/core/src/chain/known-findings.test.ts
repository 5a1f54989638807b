import { type ChainStep, configureChain } from './chain-file.ts';
import { knownFindings } from './known-findings.ts';

/** S17: what need not be studied again. */

const step = (id: string, kind: string, settings: object = {}, more: Partial<ChainStep> = {}): ChainStep => ({
  id,
  kind,
  on: true,
  mix: 1,
  settings: settings as ChainStep['settings'],
  ...more,
});
const CHAIN = [
  step('hum', 'hum-removal'),
  step('nr', 'noise-reduction', { reductionDb: 10 }),
  step('level', 'loudness-normalise', { integratedLufs: -20 }),
  step('limit', 'limiter'),
];
const reports = CHAIN.map(({ id = '', kind }) => ({ id, kind, findings: { of: id }, findingsVersion: 1, deepest: {} }));
const knownIn = (steps: ChainStep[]) => Object.keys(knownFindings(configureChain(steps), { steps: CHAIN, reports }));
const changed = (at: number, part: Partial<ChainStep>) => CHAIN.with(at, { ...CHAIN[at], ...part });

it.each<[string, ChainStep[], string[]]>([
  ['nothing', CHAIN, ['hum', 'nr', 'level']],
  [
    'a setting that its study does not look at: all up to it',
    changed(1, { settings: { reductionDb: 20 } }),
    ['hum', 'nr'],
  ],
  ['a setting that its study looks at', changed(1, { settings: { method: 'adaptive' } }), ['hum']],
  ['a setting of the first', changed(0, { settings: { mainsHz: 60 } }), []],
  ['how much of it is heard', changed(0, { mix: 0.5 }), ['hum']],
  ['where it applies', changed(0, { scope: { marks: ['a'], crossfadeMs: 20 } }), []],
  ['the level that is aimed for', changed(2, { settings: { integratedLufs: -18 } }), ['hum', 'nr']],
  ['a step less', CHAIN.slice(1), []],
  ['a step that is off', changed(0, { on: false }), []],
  ['a note', changed(0, { note: 'as before' }), ['hum', 'nr', 'level']],
  ['the last', CHAIN.slice(0, 3), ['hum', 'nr', 'level']],
])('where what differs is %s', (_, steps, known) => {
  expect(knownIn(steps)).toEqual(known);
});

it('knows nothing of a step whose study was not needed before', () => {
  const steps = [step('match', 'tone-match')];
  const reference = [
    { frequencyHz: 100, levelDb: -40 },
    { frequencyHz: 1000, levelDb: -50 },
  ];
  const now = configureChain([step('match', 'tone-match', { reference })]);
  expect(
    knownFindings(now, {
      steps,
      reports: [{ id: 'match', kind: 'tone-match', findings: {}, findingsVersion: 1, deepest: {} }],
    }),
  ).toEqual({});
});

it('takes over nothing that an earlier version found, which knew no versions, or another one', () => {
  const chain = configureChain(CHAIN);
  const found = (findingsVersion: number | undefined) =>
    Object.keys(knownFindings(chain, { steps: CHAIN, reports: reports.map((one) => ({ ...one, findingsVersion })) }));
  expect(found(1)).toEqual(['hum', 'nr', 'level']);
  expect(found(undefined)).toEqual([]);
  expect(found(2)).toEqual([]);
});
