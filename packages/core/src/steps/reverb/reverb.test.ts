import { levelDb, noise, processBlock, sine } from '../../testing/index.ts';
import { stepOfKind } from '../index.ts';
import { decayAt, roomResponse } from './room-response.ts';

const run = (input: Float32Array[], rate: number, settings: Record<string, unknown> = {}, blockFrames = 4096) =>
  processBlock([{ kind: 'reverb', settings }], input, rate, blockFrames);

/** Of an impulse: what comes of it, without the impulse itself. */
async function roomOf(rate: number, settings: Record<string, unknown>): Promise<Float32Array> {
  const impulse = new Float32Array(rate / 10);
  impulse[0] = 1;
  const { output } = await run([impulse], rate, settings);
  output[0][0] -= 1;
  return output[0];
}

/** Samples in an octave, by a resonance of two sections that decays far faster than the room. */
function octave(samples: Float32Array, hz: number, rate: number): Float32Array {
  let out = samples;
  for (let section = 0; section < 2; section++) {
    const w = (2 * Math.PI * hz) / rate;
    const alpha = Math.sin(w) / 2.8;
    const [a0, a1, a2] = [1 + alpha, -2 * Math.cos(w), 1 - alpha];
    let [x1, x2, y1, y2] = [0, 0, 0, 0];
    out = out.map((x) => {
      const y = (alpha * (x - x2) - a1 * y1 - a2 * y2) / a0;
      [x2, x1, y2, y1] = [x1, x, y1, y];
      return y;
    });
  }
  return out;
}

/** T60 by Schroeder's backward integration, between -5 and -35 dB (ISO 3382-1). */
function t60Of(samples: Float32Array, rate: number): number {
  const left = new Float64Array(samples.length + 1);
  for (let i = samples.length - 1; i >= 0; i--) left[i] = left[i + 1] + samples[i] ** 2;
  const at = (db: number) => left.findIndex((x) => 10 * Math.log10(x / left[0]) <= db) / rate;
  return 2 * (at(-35) - at(-5));
}

it.each([
  [48_000, 0.8, 6000],
  [44_100, 2.5, 8000],
  [16_000, 0.4, 6000],
  [48_000, 5, 12_000],
  [96_000, 0.3, 6000],
])('at %d Hz a room of %d s decays so from 500 Hz to 2 kHz within 10 %%', async (rate, decaySeconds, dampingHz) => {
  const room = await roomOf(rate, { decaySeconds, dampingHz, preDelayMs: 0, wetDb: 0 });
  for (const hz of [500, 1000, 2000])
    expect(Math.abs(t60Of(octave(room, hz, rate), rate) / decaySeconds - 1)).toBeLessThan(0.1);
  // over the damping frequency it is shorter
  if (dampingHz < rate / 4) expect(t60Of(octave(room, dampingHz * 1.4, rate), rate)).toBeLessThan(0.6 * decaySeconds);
  expect(decayAt({ decaySeconds, dampingHz }, 1000)).toBeCloseTo(decaySeconds, 9);
});

it('no mode rings: late in the decay no third of a tone stands 6 dB out of its neighbours', async () => {
  const rate = 48_000;
  const room = await roomOf(rate, { decaySeconds: 1.5, wetDb: 0 });
  const late = room.subarray(0.7 * rate, 1.4 * rate);
  const levels = Array.from({ length: 60 }, (_, k) => 200 * 2 ** (k / 18)).map((hz) =>
    levelDb(octave(octave(late, hz, rate), hz, rate)),
  );
  for (let k = 4; k < levels.length - 4; k++) {
    const around = levels.slice(k - 4, k + 5).reduce((sum, db) => sum + db, 0) / 9;
    expect(levels[k] - around).toBeLessThan(6);
  }
});

it('the dry voice stays in place at 0 dB, and the room has its power against it for steady noise', async () => {
  const rate = 48_000;
  const steady = noise(0.1, 6, rate);
  for (const wetDb of [-6, -18, -30]) {
    const { output } = await run([steady], rate, { wetDb });
    const wet = output[0].map((x, i) => x - (steady[i] ?? 0));
    // once the room is full
    expect(levelDb(wet.subarray(2 * rate, 6 * rate)) - levelDb(steady)).toBeCloseTo(wetDb, 0);
    expect(wet.subarray(0, 0.02 * rate - 1).every((x) => Math.abs(x) < 1e-7)).toBe(true);
  }
});

it('its tail is added and never cut: as long as the room sounds, or as long as asked', async () => {
  const rate = 16_000;
  const input = sine(440, 0.3, 1, rate);
  const whole = await run([input], rate, { decaySeconds: 0.8, preDelayMs: 50 });
  expect(whole.output[0].length).toBe(1.85 * rate);
  expect(whole.reports[0].timeMap).toEqual([
    [0, 0],
    [1, 1],
    [1, 1.85],
  ]);
  // at its end it is 60 dB under its begin
  const tail = whole.output[0].subarray(rate);
  expect(levelDb(tail.subarray(-800)) - levelDb(tail.subarray(0, 800))).toBeLessThan(-45);
  expect((await run([input], rate, { tailSeconds: 2 })).output[0].length).toBe(3 * rate);
  expect((await run([input], rate, { tailSeconds: 0 })).output[0].length).toBe(rate);
  // steps behind it hear the tail too
  const { output } = await processBlock(
    [{ kind: 'reverb' }, { kind: 'limiter' }, { kind: 'high-pass' }],
    [input],
    rate,
  );
  expect(output[0].length).toBe(1.82 * rate);
});

it('channels have rooms of their own, alike in power and not in sound', () => {
  const room = { decaySeconds: 0.5, preDelayMs: 0, dampingHz: 6000 };
  const [left, right] = [0, 1].map((c) => roomResponse(room, 24_000, c));
  const product = left.reduce((sum, x, i) => sum + x * right[i], 0);
  expect(Math.abs(product)).toBeLessThan(0.1);
  for (const one of [left, right]) expect(one.reduce((sum, x) => sum + x * x, 0)).toBeCloseTo(1, 4);
});

it('another room comes in without a click while it sounds', () => {
  const rate = 16_000;
  const definition = stepOfKind('reverb')!;
  const parsed = definition.settings.parse({ wetDb: 0 });
  const processor = definition.start(parsed, { sampleRateHz: rate, channels: 1 }, {});
  const tone = sine(200, 0.3, 3, rate);
  const out = tone.slice();
  for (let at = 0; at < out.length; at += 400) {
    if (at === 16_000) processor.update({ ...parsed, decaySeconds: 0.3 });
    if (at === 24_000) processor.update({ ...parsed, decaySeconds: 2, wetDb: -30 });
    processor.process([out.subarray(at, at + 400)]);
  }
  const bend = (from: number, to: number) => {
    let most = 0;
    for (let i = from; i < to; i++) most = Math.max(most, Math.abs(out[i] - 2 * out[i - 1] + out[i - 2]));
    return most;
  };
  expect(bend(15_000, 40_000)).toBeLessThan(2.5 * bend(12_000, 15_000));
});
