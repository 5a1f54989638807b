import fc from 'fast-check';
import { chainFile, configureChain } from '../chain/chain-file.ts';
import type { Complaint, ComplaintCode } from '../measure/complaints/complaint.ts';
import type { SoundFigures } from '../measure/measurement.ts';
import { SHIPPED_TARGETS } from '../target/shipped-targets.ts';
import { orderAdvice } from './order-advice.ts';
import { proposeChain } from './propose-chain.ts';

const complaint = (
  code: ComplaintCode,
  kind: string,
  settings: Record<string, string | number> = {},
  amount = 20,
): Complaint => ({
  code,
  severity: 'clear',
  amount,
  unit: '',
  confidence: 1,
  places: [],
  remedy: { kind, settings },
});

/** What a recording may complain of, with what helps. */
const COMPLAINTS_OF = [
  complaint('hum', 'hum-removal', { mainsHz: 50, harmonics: 12 }),
  complaint('rumble', 'high-pass', { frequencyHz: 80 }, -12),
  complaint('steady-noise', 'noise-reduction', { reductionDb: 12 }, -48),
  complaint('mouth-clicks', 'declick', { clicks: 'mouth' }),
  complaint('digital-clicks', 'declick', { clicks: 'digital' }),
  complaint('plosives', 'plosive-removal'),
  complaint('sibilance', 'de-esser'),
  complaint('clipped', 'declip'),
  complaint('uneven-level', 'leveller'),
  complaint('one-sided', 'channels', { mode: 'auto-mono' }),
  complaint('dc-offset', 'dc-removal'),
];

const sound = (complaints: Complaint[], lufs = -30): SoundFigures =>
  ({
    integratedLufs: lufs,
    rmsDbfs: lufs + 1,
    truePeakDbtp: lufs + 22,
    noiseFloorDbfs: lufs - 35,
    loudnessRangeLu: 6,
    complaints,
  }) as SoundFigures;

const sounds = fc.array(
  fc.record({ complaints: fc.subarray(COMPLAINTS_OF), lufs: fc.integer({ min: -45, max: -12 }) }).map((one) => {
    return sound(one.complaints, one.lufs);
  }),
  { minLength: 1, maxLength: 5 },
);
const target = fc.constantFrom(...SHIPPED_TARGETS);

it('proposes chains that can be run, in an order that nothing is said against, each step with its reason', () => {
  fc.assert(
    fc.property(sounds, target, (some, aimed) => {
      const { chain, adjustments } = proposeChain(some, aimed);
      expect(chainFile.parse(chain)).toEqual(chain);
      expect(() => configureChain(chain.steps)).not.toThrow();
      expect(orderAdvice(chain.steps, aimed)).toEqual([]);
      for (const { note } of chain.steps) expect(note).toMatch(/^[A-Z0-9].*\.$/);
      const ids = chain.steps.map(({ id }) => id);
      expect(adjustments).toHaveLength(some.length);
      for (const { id } of adjustments.flat()) expect(ids).toContain(id);
    }),
  );
});

it('takes what most need for all, and adjusts the one that needs more', () => {
  const noisy = (reductionDb: number) =>
    sound([complaint('steady-noise', 'noise-reduction', { reductionDb }, -50)], -16);
  const aimed = SHIPPED_TARGETS.find(({ name }) => name === 'Podcast, stereo')!;
  const { chain, adjustments } = proposeChain([noisy(10), noisy(10), noisy(20), sound([], -16)], aimed);
  const step = chain.steps.find(({ kind }) => kind === 'noise-reduction')!;
  expect(step).toMatchObject({ settings: { reductionDb: 10 }, note: expect.stringMatching(/in 3 of 4\.$/) });
  expect(adjustments).toEqual([
    [],
    [],
    [{ id: step.id, settings: { reductionDb: 20 } }],
    [{ id: step.id, on: false, settings: {} }],
  ]);
});

it('proposes nothing for a clean recording at its level', () => {
  const aimed = SHIPPED_TARGETS.find(({ name }) => name === 'Broadcast, EBU R 128')!;
  const clean = { ...sound([], -23), truePeakDbtp: -4 };
  expect(proposeChain([clean], aimed).chain.steps).toEqual([]);
});
