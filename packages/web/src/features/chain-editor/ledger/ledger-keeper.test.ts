import type { Block } from '@tonos/core';
import { babble, mixed, noise } from '@tonos/core/testing';
import type { Track } from '../../../listening/engine/messages.ts';
import { Checkpoints } from './checkpoints.ts';
import { type KeptRows, LedgerKeeper } from './ledger-keeper.ts';
import type { LedgerAsked } from './messages.ts';

const RATE = 16000;
const voice = mixed(babble(20, RATE), noise(0.001, 20, RATE));
const track: Track = { url: '/voice', sampleRateHz: RATE, channels: 1, frames: voice.length, boxes: [] };
const step = (id: string, kind: string, settings: Record<string, unknown> = {}, on = true) => ({
  id,
  kind,
  on,
  mix: 1,
  settings,
});
const STEPS = [
  step('nr', 'noise-reduction'),
  step('hp', 'high-pass', { frequencyHz: 100 }),
  step('g', 'gain', { gainDb: -2 }),
  step('lev', 'leveller'),
];

it('P11: ledgers of one page share one budget: what one keeps makes room for another\u2019s, and who leaves leaves nothing', async () => {
  const fetched = (_: Track, from: number, frames: number): Promise<Block> =>
    Promise.resolve([voice.slice(from, from + frames)]);
  const asked = { track, stretch: { startSeconds: 0, endSeconds: 5 }, steps: STEPS, known: {}, findings: {} };
  const bytes = 4 * 5 * RATE;
  const kept = new Checkpoints(STEPS.length * bytes);
  const keepers = ['one', 'other'].map((name) => new LedgerKeeper(fetched, async () => {}, kept, name));
  const signalOf = async (keeper: LedgerKeeper) =>
    (await keeper.picture(asked, 'g', {}, new AbortController().signal)) !== undefined;
  await keepers[0].measure(asked, new AbortController().signal, () => {});
  expect(await signalOf(keepers[0])).toBe(true);
  await keepers[1].measure(asked, new AbortController().signal, () => {});
  expect(await signalOf(keepers[1])).toBe(true);
  expect(await signalOf(keepers[0])).toBe(false);
  keepers[1].forget();
  expect(await signalOf(keepers[1])).toBe(false);
});

function keeping() {
  let fetches = 0;
  const fetched = (_: Track, from: number, frames: number): Promise<Block> => {
    fetches++;
    return Promise.resolve([voice.slice(from, from + frames)]);
  };
  let turns = 0;
  const keeper = new LedgerKeeper(fetched, async () => {
    turns++;
  });
  const ask = async (steps: LedgerAsked['steps'], more: Partial<LedgerAsked> = {}) => {
    const told: KeptRows[] = [];
    const stretch = { startSeconds: 4, endSeconds: 16 };
    const asked = { track, stretch, steps, known: {}, findings: {}, ...more };
    await keeper.measure(asked, new AbortController().signal, (rows) => told.push(rows));
    return told;
  };
  return { ask, counts: () => ({ fetches, turns }), keeper };
}

it('P29: accounts for every step that is on, and for the stretch alone', async () => {
  const { ask } = keeping();
  const told = await ask([...STEPS.slice(0, 3), step('off', 'gain', { gainDb: 40 }, false)]);
  const last = told.at(-1)!;
  expect(last.done).toBe(true);
  expect(last.ledger.rows.map(({ id }) => id)).toEqual(['nr', 'hp', 'g']);
  const [hp, g] = last.ledger.rows.slice(1).map(({ figures }) => figures.rmsDbfs!);
  expect(g - hp).toBeCloseTo(-2, 6);
  let energy = 0;
  for (let i = 4 * RATE; i < 16 * RATE; i++) energy += voice[i] ** 2;
  expect(last.ledger.source.rmsDbfs).toBeCloseTo(10 * Math.log10(energy / (12 * RATE)), 6);
});

it('starts from the step that was changed, with the same figures as from the beginning', async () => {
  const { ask, counts } = keeping();
  await ask(STEPS);
  const { fetches } = counts();
  const changed = STEPS.with(2, step('g', 'gain', { gainDb: -5 }));
  const told = await ask(changed);
  expect(counts().fetches).toBe(fetches);
  // what lies before the change is known at once
  expect(told[0].ledger.rows.map(({ id }) => id)).toEqual(['nr', 'hp']);
  const fresh = await keeping().ask(changed);
  const figures = (rows: KeptRows[]) => rows.at(-1)!.ledger.rows.map((row) => row.figures.rmsDbfs!.toFixed(8));
  expect(figures(told)).toEqual(figures(fresh));
  // back again: everything is known
  expect(await ask(STEPS)).toHaveLength(1);
});

it('uses findings of the whole recording where it is given them', async () => {
  const { ask } = keeping();
  const own = (await ask(STEPS.slice(0, 1))).at(-1)!;
  const powers = (own.findings.nr.noisePowers as number[][]).map((channel) => channel.map((power) => power / 1e6));
  const { prefixKey } = await import('./messages.ts');
  const findings = { [prefixKey(STEPS.slice(0, 1))]: { method: 'room-tone', noisePowers: powers } };
  const other = (await ask(STEPS.slice(0, 1), { findings })).at(-1)!;
  // noise that was said to be 60 dB lower is left where it is
  expect(other.ledger.rows[0].figures.noiseFloorDbfs!).toBeGreaterThan(own.ledger.rows[0].figures.noiseFloorDbfs! + 6);
});

it('stops where something newer was asked', async () => {
  const { keeper } = keeping();
  const controller = new AbortController();
  controller.abort();
  const asked = { track, stretch: { startSeconds: 0, endSeconds: 5 }, steps: STEPS, known: {}, findings: {} };
  await expect(keeper.measure(asked, controller.signal, () => {})).rejects.toThrow();
});
