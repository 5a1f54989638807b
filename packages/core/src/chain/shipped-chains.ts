import type { ChainFile } from './chain-file.ts';

const chain = (
  name: string,
  tags: string[],
  notes: string,
  steps: [id: string, kind: string, settings: Record<string, unknown>][],
): ChainFile => ({
  format: 'tonos.chain/1',
  name,
  tags,
  notes,
  steps: steps.map(([id, kind, settings]) => ({ id, kind, on: true, mix: 1, settings })),
});

/** Chains to start from; the demo loads them. */
export const SHIPPED_CHAINS: readonly ChainFile[] = [
  chain('Narration, close microphone', ['narration'], 'For a quiet booth and a narrator near the microphone.', [
    ['nr', 'noise-reduction', { reductionDb: 10 }],
    ['hp', 'high-pass', { frequencyHz: 80 }],
    [
      'eq',
      'parametric-eq',
      {
        bands: [
          { shape: 'bell', frequencyHz: 240, gainDb: -2.5, q: 1 },
          { shape: 'high-shelf', frequencyHz: 8000, gainDb: 1.5, q: 0.7 },
        ],
      },
    ],
    ['comp', 'compressor', { thresholdDb: -24, ratio: 2.5 }],
    ['level', 'rms-normalise', { rmsDbfs: -20 }],
    ['limit', 'limiter', { ceilingDbtp: -3.2 }],
  ]),
  chain('Narration, repair', ['narration', 'repair'], 'For takes with a fan, a hum or a level far too low.', [
    ['hp', 'high-pass', { frequencyHz: 90, slopeDbPerOctave: 36 }],
    [
      'hum',
      'parametric-eq',
      {
        bands: [
          { shape: 'notch', frequencyHz: 100, q: 12 },
          { shape: 'notch', frequencyHz: 150, q: 14 },
          { shape: 'notch', frequencyHz: 200, q: 16 },
        ],
      },
    ],
    ['nr', 'noise-reduction', { reductionDb: 20, smoothing: 0.6 }],
    ['comp', 'compressor', { thresholdDb: -28, ratio: 2.5 }],
    ['level', 'rms-normalise', { rmsDbfs: -20 }],
    ['limit', 'limiter', { ceilingDbtp: -3.2 }],
  ]),
  chain('Conversation', ['podcast'], 'For several voices of different levels in one file.', [
    ['nr', 'noise-reduction', { reductionDb: 8 }],
    ['hp', 'high-pass', { frequencyHz: 90 }],
    ['even', 'compressor', { thresholdDb: -32, ratio: 3, attackMs: 20, releaseMs: 400, kneeDb: 12 }],
    ['comp', 'compressor', { thresholdDb: -20, ratio: 3, attackMs: 5 }],
    ['level', 'loudness-normalise', { integratedLufs: -16 }],
    ['limit', 'limiter', { ceilingDbtp: -1.5 }],
  ]),
  chain('Telephone line', ['podcast', 'repair'], 'For a guest on the telephone: keeps to the line\u2019s own band.', [
    ['hp', 'high-pass', { frequencyHz: 250 }],
    ['lp', 'low-pass', { frequencyHz: 3600, slopeDbPerOctave: 36 }],
    ['nr', 'noise-reduction', { reductionDb: 15, method: 'adaptive' }],
    [
      'eq',
      'parametric-eq',
      {
        bands: [
          { shape: 'bell', frequencyHz: 1200, gainDb: -3, q: 0.9 },
          { shape: 'bell', frequencyHz: 2600, gainDb: 2, q: 1.2 },
        ],
      },
    ],
    ['comp', 'compressor', { thresholdDb: -26, ratio: 4 }],
    ['level', 'loudness-normalise', { integratedLufs: -16 }],
    ['limit', 'limiter', {}],
  ]),
];
