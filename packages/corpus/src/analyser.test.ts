import { cut, MemorySignal, measureSource, type SoundFigures } from '@tonos/core';
import { processBlock } from '@tonos/core/testing';
import { add, booth, CORPUS_VOICES, clean, fan, narrated } from './index.ts';

/** The analyser on recordings as they come: what was put in at known places must be found there. */

const RATES = [8000, 16000, 48000];

async function figuresOf(samples: Float32Array, sampleRateHz: number): Promise<SoundFigures> {
  const source = new MemorySignal({ sampleRateHz, channels: 1 }, [...cut([samples], 4096)]);
  return (await measureSource(source)).figures;
}

const codes = ({ warnings }: SoundFigures) => warnings.map(({ code }) => code);

const lengthened = (samples: Float32Array, before: number, after: number): Float32Array => {
  const longer = new Float32Array(before + samples.length + after);
  longer.set(samples, before);
  return longer;
};

/** Share of the tones' time that lies inside pauses. */
function insidePauses({ roomTone }: SoundFigures, spans: { startSeconds: number; endSeconds: number }[]): number {
  let [inside, all] = [0, 0];
  for (const { startSeconds, endSeconds } of roomTone) {
    for (let t = startSeconds; t < endSeconds; t += 0.01) {
      all++;
      if (!spans.some((span) => t > span.startSeconds && t < span.endSeconds)) inside++;
    }
  }
  return inside / all;
}

const voiceAt = async (rate: number, voice: (typeof CORPUS_VOICES)[number], sentences = 4) => {
  const { samples, spans } = await narrated(rate, { sentences, voice });
  return { samples: add(samples, booth(samples.length, rate, -62, 5)), spans };
};

describe.each(CORPUS_VOICES)('S1: digital silence, %s', (voice) => {
  it.each(RATES)('hides neither speech nor room tone at %d Hz', async (rate) => {
    const { samples, spans } = await voiceAt(rate, voice);
    const bare = await figuresOf(samples, rate);
    const stopped = await figuresOf(lengthened(samples, 0, 3 * rate), rate);
    expect(Math.abs(bare.headSilenceSeconds! - spans[0].startSeconds)).toBeLessThan(0.15);
    expect(Math.abs(stopped.headSilenceSeconds! - bare.headSilenceSeconds!)).toBeLessThan(0.03);
    expect(stopped.roomTone.length).toBeGreaterThanOrEqual(3);
    expect(insidePauses(stopped, spans)).toBeGreaterThanOrEqual(0.98);
    expect(codes(stopped)).toEqual(['digital-silence']);
  });
});

it('S1: finds the room of a fan between two stretches of digital silence', async () => {
  const rate = 16000;
  const { roomTone } = await figuresOf(lengthened(fan(10 * rate, rate, -40, 3), 3 * rate, 3 * rate), rate);
  expect(roomTone.length).toBeGreaterThan(0);
  for (const { startSeconds, endSeconds } of roomTone) {
    expect(startSeconds).toBeGreaterThanOrEqual(2.99);
    expect(endSeconds).toBeLessThanOrEqual(13.01);
  }
});

describe.each(CORPUS_VOICES)('S2: a constant offset, %s', (voice) => {
  it('of 6 % of full scale hides no room tone, and is told to a tenth', async () => {
    const { samples, spans } = await voiceAt(24000, voice);
    const figures = await figuresOf(
      samples.map((x) => x + 0.06),
      24000,
    );
    expect(figures.roomTone.length).toBeGreaterThanOrEqual(3);
    expect(insidePauses(figures, spans)).toBeGreaterThanOrEqual(0.98);
    expect(figures.dcOffset).toBeCloseTo(0.06, 4);
    expect(codes(figures)).toEqual(['dc-offset']);
  });

  it('is not a lopsided wave\u2019s own mean', async () => {
    const { samples } = await narrated(24000, { sentences: 4, voice, levelDb: -14 });
    // squaring a part of the wave lifts one side of it: its mean follows the voice
    const lopsided = add(
      samples.map((x) => x + 0.6 * x * x),
      booth(samples.length, 24000, -66, 8),
    );
    const mean = lopsided.reduce((sum, x) => sum + x, 0) / lopsided.length;
    expect(mean).toBeGreaterThan(0.001);
    expect(Math.abs((await figuresOf(lopsided, 24000)).dcOffset)).toBeLessThan(0.0001);
  });
});

it.each(CORPUS_VOICES)('S3: sees a hiss become a fan in the middle, %s', async (voice) => {
  const rate = 24000;
  const { samples } = await narrated(rate, { sentences: 10, voice });
  const half = samples.length >> 1;
  const hiss = booth(samples.length, rate, -53, 4);
  const noise = fan(samples.length, rate, -33, 6);
  for (let i = 0; i < samples.length; i++) samples[i] += i < half ? hiss[i] : noise[i];
  expect(codes(await figuresOf(samples, rate))).toContain('floor-changes');
});

describe.each(CORPUS_VOICES)('S3: a telephone line, %s', (voice) => {
  it.each([8000, 11025, 48000])('stored at %d Hz ends at 3.4 kHz', async (rate) => {
    const line = [
      { kind: 'high-pass', settings: { frequencyHz: 300, slopeDbPerOctave: 36 } },
      { kind: 'low-pass', settings: { frequencyHz: 3400, slopeDbPerOctave: 48 } },
    ];
    const { output } = await processBlock(line, [await clean(rate, { voice })], rate);
    const { warnings } = await figuresOf(output[0] as Float32Array, rate);
    expect(warnings.find(({ code }) => code === 'band-limited')?.message).toContain('3.4 kHz');
  });
});

describe.each(CORPUS_VOICES)('a clean voice, %s', (voice) => {
  it.each([8000, 11025, 44100])('has no warning at %d Hz', async (rate) => {
    expect(codes(await figuresOf(await clean(rate, { voice }), rate))).toEqual([]);
  });
});
