import { type Complaint, type ComplaintCode, cut, MemorySignal, measureSource, Random } from '@tonos/core';
import { processBlock } from '@tonos/core/testing';
import { add, atLevel, booth, CORPUS_VOICES, clean, fan, hum, narrated, placed, wind } from './index.ts';

/** Faults planted in good recordings are found, with their amounts and places; good recordings have none. */

const RATE = 24000;

async function complaintsOf(block: Float32Array | Float32Array[], sampleRateHz = RATE): Promise<Complaint[]> {
  const channels = Array.isArray(block) ? block : [block];
  const source = new MemorySignal({ sampleRateHz, channels: channels.length }, [...cut(channels, 4096)]);
  return (await measureSource(source)).figures.complaints;
}

const codesOf = (found: readonly Complaint[]): ComplaintCode[] => found.map(({ code }) => code);

const smack = (ms: number, hz: number, level: number): Float32Array =>
  Float32Array.from({ length: Math.round((ms * RATE) / 1000) }, (_, i) => {
    const t = i / RATE;
    return level * Math.exp((-6900 * t) / ms) * Math.sin(2 * Math.PI * hz * t + 0.3) * Math.min(1, i / 8);
  });

/** A room of its own: decaying noise, 60 dB in `seconds`. */
function inRoom(samples: Float32Array, seconds: number): Float32Array {
  const random = new Random(3);
  // a few hundred echoes at random places sound as dense as noise
  const out = samples.slice();
  for (let k = 0; k < 500; k++) {
    const at = 1 + Math.floor(seconds * RATE * random.next());
    const size = 0.12 * random.normal() * Math.exp((-6.9 * at) / RATE / seconds);
    for (let i = at; i < out.length; i++) out[i] += size * samples[i - at];
  }
  return out;
}

interface Planted {
  samples: Float32Array;
  spans: { startSeconds: number; endSeconds: number }[];
}

const PAUSES = { sentences: 7, pauseSeconds: 0.8 } as const;

async function voiceIn(voice: (typeof CORPUS_VOICES)[number], floorDb = -66): Promise<Planted> {
  const { samples, spans } = await narrated(RATE, { ...PAUSES, voice });
  return { samples: add(samples, booth(samples.length, RATE, floorDb, 4)), spans };
}

const pausesOf = ({ spans }: Planted) =>
  spans.slice(0, -1).map(({ endSeconds }) => Math.round((endSeconds + 0.4) * RATE));

type Plant = (recording: Planted) => Promise<Float32Array | Float32Array[]> | Float32Array | Float32Array[];

const FAULTS: [ComplaintCode, Plant][] = [
  ['hum', ({ samples }) => add(samples, hum(samples.length, RATE, -48))],
  ['rumble', ({ samples }) => add(samples, wind(samples.length, RATE, -36, 5))],
  ['steady-noise', ({ samples }) => add(samples, fan(samples.length, RATE, -44, 6))],
  [
    'noise-change',
    ({ samples }) => {
      const noise = fan(samples.length, RATE, -44, 6);
      for (let i = samples.length >> 1; i < samples.length; i++) samples[i] += noise[i];
      return samples;
    },
  ],
  [
    'mouth-clicks',
    (recording) => {
      pausesOf(recording).forEach((at, k) => {
        placed(recording.samples, smack([6, 8, 10][k % 3], [1800, 3000, 4500][k % 3], 0.04), at);
      });
      return recording.samples;
    },
  ],
  [
    'digital-clicks',
    ({ samples }) => {
      for (let k = 1; k < 8; k++) samples[Math.round((k * samples.length) / 8)] += k % 2 ? 0.4 : -0.4;
      return samples;
    },
  ],
  [
    'plosives',
    ({ samples, spans }) => {
      for (const { startSeconds } of spans)
        placed(
          samples,
          Float32Array.from(
            { length: Math.round(0.12 * RATE) },
            (_, i) => 0.5 * Math.sin((2 * Math.PI * 45 * i) / RATE) * Math.exp(-i / (0.04 * RATE)),
          ),
          Math.round((startSeconds + 0.05) * RATE),
        );
      return samples;
    },
  ],
  ['clipped', ({ samples }) => samples.map((x) => Math.max(-0.2, Math.min(0.2, x)))],
  [
    'uneven-level',
    ({ samples, spans }) => {
      spans.forEach(({ startSeconds, endSeconds }, k) => {
        if (k % 2) for (let i = Math.round(startSeconds * RATE); i < endSeconds * RATE; i++) samples[i] *= 0.2;
      });
      return samples;
    },
  ],
  [
    'roomy',
    async ({ spans: _, samples }) => {
      const wet = inRoom(
        samples.map((x) => (Math.abs(x) < 0.003 ? 0 : x)),
        0.7,
      );
      return add(atLevel(wet, -24), booth(wet.length, RATE, -66, 4));
    },
  ],
  ['one-sided', ({ samples }) => [samples, booth(samples.length, RATE, -84, 8)]],
  ['polarity', ({ samples }) => [samples, samples.map((x, i) => -0.9 * x + 1e-5 * ((i * 7919) % 13))]],
  ['dc-offset', ({ samples }) => samples.map((x) => x + 0.02)],
  [
    'band-limited',
    async ({ samples }) => {
      const line = [
        { kind: 'high-pass', settings: { frequencyHz: 300, slopeDbPerOctave: 36 } },
        { kind: 'low-pass', settings: { frequencyHz: 3400, slopeDbPerOctave: 48 } },
      ];
      return (await processBlock(line, [samples], RATE)).output[0] as Float32Array;
    },
  ],
  ['too-quiet', ({ samples }) => samples.map((x) => 0.05 * x)],
];

const found = new Map<string, boolean>();

describe.each(CORPUS_VOICES)('planted in %s', (voice) => {
  it.each(FAULTS)('%s', async (code, plant) => {
    const complaints = await complaintsOf(await plant(await voiceIn(voice)));
    found.set(`${voice} ${code}`, codesOf(complaints).includes(code));
    // what else is said must come of what was planted: nothing severe that is not there
    for (const one of complaints)
      if (one.code !== code) expect([one.code, one.severity]).not.toEqual([one.code, 'severe']);
    for (const { remedy } of complaints) if (remedy) expect(remedy.kind).toMatch(/^[a-z-]+$/);
  });
});

it('finds nine of ten of them, and each kind at least twice in three voices', () => {
  const all = [...found.entries()];
  const missed = all.filter(([, isFound]) => !isFound).map(([name]) => name);
  expect(all.length).toBe(FAULTS.length * CORPUS_VOICES.length);
  expect({ missed, share: 1 - missed.length / all.length >= 0.9 }).toEqual({ missed, share: true });
  for (const [code] of FAULTS)
    expect([code, missed.filter((name) => name.endsWith(` ${code}`)).length > 1]).toEqual([code, false]);
});

describe.each(CORPUS_VOICES)('a clean voice has none: %s', (voice) => {
  it.each([8000, 16000, 44100])('at %d Hz', async (rate) => {
    for (const floorDb of [-61, -75])
      expect(await complaintsOf(await clean(rate, { voice, sentences: 4, floorDb }), rate)).toEqual([]);
  });

  it('nor has one with lopsided waves', async () => {
    const { samples } = await narrated(RATE, { sentences: 6, voice, levelDb: -15 });
    const lopsided = add(
      samples.map((x) => x + 0.4 * x * x),
      booth(samples.length, RATE, -66, 8),
    );
    expect(await complaintsOf(lopsided)).toEqual([]);
  });
});

it.each<[string, () => Float32Array | Float32Array[]]>([
  ['digital silence', () => new Float32Array(3 * RATE)],
  ['one click', () => placed(new Float32Array(3 * RATE), Float32Array.of(0.5), RATE)],
  ['0.2 s', () => booth(0.2 * RATE, RATE, -30, 1)],
  ['noise', () => booth(5 * RATE, RATE, -30, 1)],
  ['six channels', () => Array.from({ length: 6 }, (_, c) => booth(2 * RATE, RATE, -50, c + 1))],
])('%s gets figures, and no error', async (_, make) => {
  for (const { confidence, amount } of await complaintsOf(make())) {
    expect(Number.isFinite(amount)).toBe(true);
    expect(confidence).toBeGreaterThanOrEqual(0);
    expect(confidence).toBeLessThanOrEqual(1);
  }
});
